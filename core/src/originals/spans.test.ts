import { describe, expect, it } from 'vitest';
import { original } from '../../test/make';
import { RATES } from '../time';
import { joinSpans, mayGoOnIn, takenAs } from '.';

/** Files of one folder, each beginning where the one before ends; 24 fps, 100 frames each. */
const run = (names: string[], more: (i: number) => Parameters<typeof original>[1] = () => ({})) =>
  names.map((name, i) => original(`/c/${name}`, { start: 1000 + i * 100, ...more(i) }));
const joined = (...args: Parameters<typeof joinSpans>) => joinSpans(...args).map((o) => [o.fileName, o.frames, o.pieces.length]);

describe('a take over several files', () => {
  // FAT32 ends a file at 2^32 - 1 bytes.
  const full = (i: number) => ({ bytes: i < 2 ? 4_290_000_000 : 12_000_000, print: `p${i}` });
  it('is one clip when every file but the last is as large as its card allows', () => {
    const [one] = joinSpans(run(['C0007_1.mov', 'C0007_2.mov', 'C0007_3.mov'], full));
    expect(one).toMatchObject({ path: '/c/C0007_1.mov', clipName: 'C0007_1', start: 1000, frames: 300, bytes: 8_592_000_000 });
    expect(one?.pieces).toEqual(['1', '2', '3'].map((n) => ({ path: `/c/C0007_${n}.mov`, frames: 100 })));
  });
  it('or when the names say they are parts, or a source other than the name calls them the same clip', () => {
    expect(joined(run(['S12_part1.mov', 'S12_part2.mov']))).toEqual([['S12_part1.mov', 200, 2]]);
    const claims = [{ field: 'clipName', value: 'Q042C007', origin: 'sidecar x.xml', taken: true }] as const;
    expect(joined(run(['Q042C007_001.mov', 'Q042C007_002.mov'], () => ({ claims: [...claims] })))).toEqual([['Q042C007_001.mov', 200, 2]]);
  });
  it('is not made of takes in record-run, whose timecode goes on too (common practice)', () => {
    const takes = run(['A001C001.mov', 'A001C002.mov', 'A001C003.mov']);
    expect(joinSpans(takes)).toEqual(takes);
    expect(takes.map((o) => mayGoOnIn(o, takes)?.fileName ?? null)).toEqual(['A001C002.mov', 'A001C003.mov', null]);
  });
  it('has no gap, keeps its form and its reel, and begins at its first part', () => {
    const apart = (change: Parameters<typeof original>[1]) =>
      joined(run(['S_part1.mov', 'S_part2.mov'], (i) => (i === 1 ? change : {}))).length;
    expect(apart({})).toBe(1);
    expect(apart({ start: 1101 })).toBe(2);
    expect(apart({ rate: RATES['25'] })).toBe(2);
    expect(apart({ raster: { width: 960, height: 540 } })).toBe(2);
    expect(apart({ reel: 'A002' })).toBe(2);
    expect(joined(run(['S_part2.mov', 'S_part3.mov']))).toHaveLength(2);
  });
  it('goes on through midnight', () => {
    const last = 24 * 86_400 - 50;
    expect(joined(run(['S_part1.mov', 'S_part2.mov'], (i) => ({ start: i === 0 ? last : 50 })))).toHaveLength(1);
  });
  it('is joined or taken apart as a person says, before any sign', () => {
    const takes = run(['A001C001.mov', 'A001C002.mov', 'S_part1.mov', 'S_part2.mov']);
    const words = [
      { kind: 'join', original: '/c/A001C001.mov', parts: ['/c/A001C002.mov'] },
      { kind: 'join', original: '/c/S_part1.mov', parts: [] },
    ] as const;
    const said = words.map((w) => ({ ...w, parts: [...w.parts] }));
    expect(joined(takes, said)).toEqual([
      ['A001C001.mov', 200, 2],
      ['S_part1.mov', 100, 0],
      ['S_part2.mov', 100, 0],
    ]);
  });
  it('has one proxy of its whole length', () => {
    const copy = original('/proxies/S_part1.mov', { frames: 200, raster: { width: 960, height: 540 } });
    const { originals, proxyOf } = takenAs([...run(['S_part1.mov', 'S_part2.mov']), copy]);
    expect(originals).toHaveLength(2);
    expect([...proxyOf]).toEqual([['/proxies/S_part1.mov', '/c/S_part1.mov']]);
  });
});
