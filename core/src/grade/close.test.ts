import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Cdl } from '../edit';
import { apart, applyCdl, bringClose, type Colours, coloursOf, NEUTRAL_CDL } from '.';

const THINGS = [
  [0.45, 0.55, 0.75],
  [0.55, 0.42, 0.33],
  [0.2, 0.34, 0.14],
] as const;

/** A sky, a wall and a lawn in changing light, with grain: made up, each colour with a spread of its own. */
function drawn(seed: number): Colours {
  let state = seed;
  const random = () => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648;
    return state / 2_147_483_648;
  };
  const colours = Array.from({ length: 2000 }, () => {
    const light = 0.35 + random();
    return (THINGS[Math.floor(random() * 3)] ?? THINGS[0]).map((v) => Math.min(0.98, Math.max(0.02, v * light + 0.02 * (random() - 0.5))));
  });
  return Float32Array.from(colours.flat());
}
const graded = (colours: Colours, cdl: Cdl): Colours => {
  const out = new Float32Array(colours.length);
  for (let i = 0; i < colours.length; i += 3) out.set(applyCdl([colours[i] ?? 0, colours[i + 1] ?? 0, colours[i + 2] ?? 0], cdl), i);
  return out;
};
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const three = (of: fc.Arbitrary<number>) => fc.tuple(of, of, of);
const grade: fc.Arbitrary<Cdl> = fc.record({
  slope: three(number(0.75, 1.25)),
  offset: three(number(-0.05, 0.05)),
  power: three(number(0.8, 1.25)),
  saturation: number(0.7, 1.3),
});

describe('a shot that is brought close to another', () => {
  it('comes back to what it was before it was graded, whatever the grade', () => {
    const measure = drawn(3);
    // What two takes of the same are apart by chance.
    const chance = apart(drawn(7), measure);
    fc.assert(
      fc.property(grade, (cdl) => {
        const { before, after } = bringClose(graded(drawn(7), cdl), measure);
        // At the most 0.018 more over 300 grades: what a grade cut off at white does not come back.
        expect(after).toBeLessThan(chance + 0.03);
        expect(after).toBeLessThanOrEqual(before);
      }),
      { numRuns: 15, endOnFailure: true },
    );
  });
  it('is left as it is where it is like the other already', () => {
    const { cdl, before, after } = bringClose(drawn(5), drawn(9));
    expect(before).toBeLessThan(0.025);
    expect(after).toBeLessThanOrEqual(before);
    for (const v of cdl.slope) expect(v).toBeCloseTo(1, 0);
  });
  it('is not led astray by what is cut off at white', () => {
    const measure = drawn(3);
    const shot = graded(drawn(7), { ...NEUTRAL_CDL, slope: [0.8, 0.8, 0.8] });
    // A lamp in a third of the picture.
    for (let i = 0; i < shot.length / 3; i++) shot[i] = 1;
    const { clipped, cdl } = bringClose(shot, measure);
    expect(clipped).toBeCloseTo(1 / 3, 1);
    for (const v of cdl.slope) expect(Math.abs(v - 1.25)).toBeLessThan(0.2);
  });
  it('is told how far it was and is: nothing for the same, more for what is further', () => {
    const shot = drawn(2);
    expect(apart(shot, shot)).toBe(0);
    const darker = (by: number) => apart(shot, graded(shot, { ...NEUTRAL_CDL, slope: [by, by, by] }));
    expect(darker(0.8)).toBeGreaterThan(darker(0.9));
  });
});

it('colours are picked evenly from a picture, whatever its samples', () => {
  const ramp = Uint8Array.from({ length: 256 * 4 }, (_, i) => (i % 4 === 3 ? 255 : i >> 2));
  const colours = coloursOf(ramp, 4, 64);
  expect(colours).toHaveLength(192);
  expect([colours[0], colours[3], colours[189]]).toEqual([2, 6, 254].map((v) => Math.fround(v / 255)));
});
