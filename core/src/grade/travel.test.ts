import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Cdl } from '../edit';
import { applyCdl, drawnTo, gripOf, meanTravel, NEUTRAL_CDL, nudged, TRAVEL_PARTS, type Travel, travelled, travelOf, withTravel } from '.';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const curve: fc.Arbitrary<Travel> = fc.record({ slope: number(0.3, 3), offset: number(-0.4, 0.4), power: number(0.4, 2.5) });
const NEUTRAL: Travel = { slope: 1, offset: 0, power: 1 };

describe('how values travel', () => {
  it('is what the grade does to each channel (ASC CDL 1.2, saturation 1)', () => {
    fc.assert(
      fc.property(curve, number(0, 1), ({ slope, offset, power }, v) => {
        const cdl: Cdl = { slope: [slope, 1, 1], offset: [offset, 0, 0], power: [power, 1, 1], saturation: 1 };
        expect(travelled(travelOf(cdl, 0), v)).toBeCloseTo(applyCdl([v, 0.5, 0.5], cdl)[0], 9);
      }),
    );
  });
  it('is taken hold of on the curve itself', () => {
    fc.assert(
      fc.property(curve, fc.constantFrom(...TRAVEL_PARTS), (travel, part) => {
        const { x, y } = gripOf(travel, part);
        expect(y).toBeCloseTo(travelled(travel, x), 6);
      }),
    );
  });
  it('stands where darks are cut off on the lower edge, where brights are on the upper one', () => {
    expect(gripOf({ ...NEUTRAL, offset: -0.1 }, 'foot')).toEqual({ x: 0.1, y: 0 });
    expect(gripOf({ ...NEUTRAL, slope: 2 }, 'reach')).toEqual({ x: 0.5, y: 1 });
    expect(gripOf(NEUTRAL, 'bend')).toEqual({ x: 0.5, y: 0.5 });
  });
  it('goes where it is drawn to', () => {
    fc.assert(
      fc.property(number(0.05, 0.9), (y) => {
        expect(gripOf(drawnTo(NEUTRAL, 'bend', { x: 0.5, y }), 'bend').y).toBeCloseTo(y, 6);
        expect(gripOf(drawnTo(NEUTRAL, 'foot', { x: 0, y }), 'foot').y).toBeCloseTo(y, 6);
        expect(gripOf(drawnTo(NEUTRAL, 'foot', { x: y, y: 0 }), 'foot').x).toBeCloseTo(Math.min(y, 0.5), 6);
        expect(gripOf(drawnTo(NEUTRAL, 'reach', { x: 1, y }), 'reach').y).toBeCloseTo(y, 6);
        expect(gripOf(drawnTo(NEUTRAL, 'reach', { x: Math.max(0.2, y), y: 1 }), 'reach').x).toBeCloseTo(Math.max(0.2, y), 6);
      }),
    );
  });
  it('keeps white where it is while the foot is moved', () => {
    expect(travelled(drawnTo(NEUTRAL, 'foot', { x: 0, y: 0.2 }), 1)).toBeCloseTo(1, 9);
    expect(travelled(drawnTo(NEUTRAL, 'foot', { x: 0.2, y: 0 }), 1)).toBeCloseTo(1, 9);
  });
  it('goes by steps as far as a drag may go, brighter with each step up', () => {
    fc.assert(
      fc.property(curve, fc.constantFrom(...TRAVEL_PARTS), number(0.001, 3), (travel, part, by) => {
        const up = nudged(travel, part, by);
        for (const v of [0.1, 0.5, 0.9]) expect(travelled(up, v)).toBeGreaterThanOrEqual(travelled(travel, v) - 1e-9);
        expect(up.offset).toBeLessThanOrEqual(1);
        expect([up.slope, up.power].every((n) => n > 0 && n <= 8)).toBe(true);
      }),
    );
    expect(nudged(NEUTRAL, 'foot', 0.02)).toEqual({ slope: 0.98, offset: 0.02, power: 1 });
  });
  it('of a grade whose power is nothing is no number that is none', () => {
    const flat: Cdl = { slope: [0, 1, 1], offset: [0, 0, 0], power: [0, 1, 1], saturation: 1 };
    const moved = withTravel(flat, 'all', nudged(meanTravel(flat), 'bend', 0.1));
    expect([...moved.slope, ...moved.offset, ...moved.power].every(Number.isFinite)).toBe(true);
  });
  it('of all channels moves them together, and what was different between them stays so', () => {
    const cdl: Cdl = { slope: [1.1, 1, 0.9], offset: [0.02, 0, -0.02], power: [1, 1.1, 1], saturation: 0.9 };
    const mean = meanTravel(cdl);
    expect(withTravel(cdl, 'all', mean)).toEqual(cdl);
    const moved = withTravel(cdl, 'all', { ...mean, offset: mean.offset + 0.1, slope: mean.slope * 1.2 });
    [1.32, 1.2, 1.08].forEach((v, i) => void expect(moved.slope[i]).toBeCloseTo(v, 9));
    [0.12, 0.1, 0.08].forEach((v, i) => void expect(moved.offset[i]).toBeCloseTo(v, 9));
    expect(moved.power).toEqual(cdl.power);
    expect(withTravel(NEUTRAL_CDL, 1, { slope: 2, offset: 0.1, power: 0.5 })).toMatchObject({ slope: [1, 2, 1], power: [1, 0.5, 1] });
  });
});
