import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cdlOf, textOfCdl } from './typed';

/** Numbers of six places, as they are shown. */
const value = (min: number, max: number) => fc.integer({ min: min * 1e6, max: max * 1e6 }).map((n) => n / 1e6);
const three = (of: fc.Arbitrary<number>) => fc.tuple(of, of, of);

describe('a CDL that is typed', () => {
  it('is read as it is shown, ten numbers (ASC CDL 1.2: slope and saturation from 0, power above 0)', () => {
    const cdl = fc.record({ slope: three(value(0, 4)), offset: three(value(-1, 1)), power: three(value(0.1, 4)), saturation: value(0, 4) });
    fc.assert(
      fc.property(cdl, (one) => {
        expect(cdlOf(textOfCdl(one))).toEqual(one);
      }),
    );
  });
  it('may be pasted with words and brackets, and without a saturation', () => {
    expect(cdlOf('SOP (1.1 1 0.9)(-0.02 0 .01)(1 1 1.2)')).toEqual({
      slope: [1.1, 1, 0.9],
      offset: [-0.02, 0, 0.01],
      power: [1, 1, 1.2],
      saturation: 1,
    });
  });
  it('is nothing where numbers are missing, too many, or cannot be', () => {
    for (const text of ['', '1 1 1', '1 1 1 0 0 0 1 1 1 1 1', '-1 1 1 0 0 0 1 1 1 1', '1 1 1 0 0 0 0 1 1 1', '1 1 1 0 0 0 1 1 1 -1'])
      expect(cdlOf(text)).toBe('unreadable');
  });
});
