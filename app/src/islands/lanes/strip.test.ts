import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { picturesAlong } from './strip';

const WIDE = 100;
const drawn = fc.record({
  from: fc.integer({ min: 0, max: 90_000 }),
  frames: fc.integer({ min: 1, max: 4000 }),
  perFrame: fc.double({ min: 0.05, max: 60, noNaN: true }),
});
const along = ({ from, frames, perFrame }: { from: number; frames: number; perFrame: number }) =>
  picturesAlong({ in: from, out: from + frames }, { perFrame }, 0, frames * perFrame, WIDE);

describe('pictures along an event of the lanes', () => {
  it('begin with its first, end with its last, and stand within it without covering each other', () => {
    fc.assert(
      fc.property(drawn, (one) => {
        const all = along(one);
        expect(all[0]).toMatchObject({ record: one.from, x: 0 });
        if (all.length > 1) expect(all.at(-1)).toMatchObject({ record: one.from + one.frames - 1 });
        all.slice(1).forEach((a, i) => {
          expect(a.x - (all[i]?.x ?? 0)).toBeGreaterThanOrEqual(WIDE - 1e-6);
        });
      }),
    );
  });
  it('show the frame that stands where they begin, so that the eye reads them as time', () => {
    for (const { x, record, place } of along({ from: 1000, frames: 400, perFrame: 2 }))
      if (place !== 'last') expect(record).toBe(1000 + x / 2);
  });
  it('stay the same while it is zoomed a little, and double where there is twice the room', () => {
    const records = (perFrame: number) => along({ from: 0, frames: 4000, perFrame }).flatMap((a) => (a.place === 'last' ? [] : [a.record]));
    expect(
      records(1.7)
        .filter((r) => !records(1.6).includes(r))
        .filter((r) => r < 3700),
    ).toEqual([]);
    expect(
      records(3.2)
        .filter((_, i) => i % 2 === 0)
        .slice(0, 20),
    ).toEqual(records(1.6).slice(0, 20));
  });
});
