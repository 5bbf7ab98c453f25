import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fileOfFrame, groupNumbered, heldFrame, missingInside } from '.';

/** Any set of file numbers, a few of them far from the others. */
const numbers = fc.uniqueArray(fc.oneof(fc.integer({ min: 1000, max: 1100 }), fc.integer({ min: 1, max: 999_999 })), {
  minLength: 1,
  maxLength: 60,
});
const nameOf = (n: number) => `shot.${String(n).padStart(7, '0')}.dpx`;
const numberOf = (name: string) => Number(/(\d+)\.dpx$/.exec(name)?.[1]);

describe('numbered frames, whatever their numbers', () => {
  it('are each in one run or alone, and none is lost', () => {
    fc.assert(
      fc.property(numbers, (all) => {
        const { runs, singles } = groupNumbered(all.map(nameOf));
        const found = [...runs.flatMap((r) => r.files), ...singles].map(numberOf);
        expect(found.sort((a, b) => a - b)).toEqual([...all].sort((a, b) => a - b));
      }),
    );
  });
  it('stand at the frame their number says, counted from the first of their run', () => {
    fc.assert(
      fc.property(numbers, (all) => {
        for (const run of groupNumbered(all.map(nameOf)).runs)
          for (const name of run.files) expect(fileOfFrame(run, numberOf(name) - run.first)).toBe(name);
      }),
    );
  });
  it('that are missing are counted, and held by the last one before them', () => {
    fc.assert(
      fc.property(numbers, (all) => {
        for (const run of groupNumbered(all.map(nameOf)).runs) {
          const length = numberOf(run.files.at(-1) as string) - run.first + 1;
          const frames = Array.from({ length }, (_, n) => n);
          const missing = frames.filter((n) => fileOfFrame(run, n) === null);
          expect(missingInside(run, { in: 0, out: length })).toBe(missing.length);
          expect(run.files.length + missing.length).toBe(length);
          for (const n of missing.slice(0, 20)) {
            const held = heldFrame(run, n);
            expect(held).toBeLessThan(n);
            expect(fileOfFrame(run, held)).not.toBeNull();
            expect(missingInside(run, { in: held + 1, out: n + 1 })).toBe(n - held);
          }
        }
      }),
    );
  });
  it('of other names and kinds do not mix', () => {
    const { runs } = groupNumbered(['a.0001.dpx', 'a.0002.dpx', 'b.0001.dpx', 'b.0002.dpx', 'a.0001.exr', 'a.0002.EXR']);
    expect(runs.map((r) => [r.stem, r.extension, r.files.length])).toEqual([
      ['a.', '.dpx', 2],
      ['b.', '.dpx', 2],
      ['a.', '.exr', 2],
    ]);
  });
  it('may be numbered on past where their digits end', () => {
    const [run] = groupNumbered(['s0998.dpx', 's0999.dpx', 's1000.dpx', 's10000.dpx']).runs;
    expect(run).toMatchObject({ first: 998, files: ['s0998.dpx', 's0999.dpx', 's1000.dpx'], gaps: [] });
  });
  it('after a gap keep their timecode: frame 12 of a run that lacks 10 and 11 is still frame 12', () => {
    const files = Array.from({ length: 20 }, (_, n) => nameOf(1001 + n)).filter((_, n) => n !== 10 && n !== 11);
    const [run] = groupNumbered(files).runs;
    expect(run && [9, 10, 11, 12, 19].map((n) => fileOfFrame(run, n))).toEqual([nameOf(1010), null, null, nameOf(1013), nameOf(1020)]);
  });
});
