import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fitted, frameAtX, laneHeight, panned, revealing, xOf, zoomed } from './sight';

const span = { in: 86_400, out: 88_437 };
const WIDTH = 800;
const sights = fc
  .array(fc.record({ by: fc.double({ min: 0.2, max: 6, noNaN: true }), x: fc.integer({ min: 0, max: WIDTH }) }), { maxLength: 6 })
  .map((steps) => steps.reduce((s, { by, x }) => zoomed(s, by, x, span, WIDTH), fitted(span, WIDTH)));

describe('what is seen of the cut', () => {
  it('is all of it at first, with room on both sides', () => {
    const sight = fitted(span, WIDTH);
    expect(xOf(sight, span.in)).toBeCloseTo(12);
    expect(xOf(sight, span.out)).toBeCloseTo(WIDTH - 12);
  });
  it('keeps the frame under the pointer where it is while it comes nearer', () => {
    const sight = fitted(span, WIDTH);
    const near = zoomed(sight, 4, 300, span, WIDTH);
    expect(frameAtX(near, 300)).toBeCloseTo(frameAtX(sight, 300));
  });
  it('never leaves the cut, however it is moved, and goes no further than the whole of it', () => {
    fc.assert(
      fc.property(sights, fc.integer({ min: -5000, max: 5000 }), (sight, by) => {
        const moved = panned(sight, by, span, WIDTH);
        expect(xOf(moved, span.in)).toBeLessThanOrEqual(12 + 1e-6);
        expect(xOf(moved, span.out)).toBeGreaterThanOrEqual(WIDTH - 12 - 1e-6);
      }),
    );
  });
  it('is moved to the playhead where that is out of sight, and left alone else', () => {
    const near = zoomed(fitted(span, WIDTH), 20, 0, span, WIDTH);
    expect(revealing(near, Math.floor(near.from) + 2, span, WIDTH)).toBe(near);
    expect(xOf(revealing(near, 88_000, span, WIDTH), 88_000)).toBeGreaterThan(0);
    expect(xOf(revealing(near, 88_000, span, WIDTH), 88_000)).toBeLessThan(WIDTH);
  });
  it('gives each lane its share of the height, but never too little to read', () => {
    expect(laneHeight(200, 2, true)).toBe(74);
    expect(laneHeight(200, 12, false)).toBe(30);
    expect(laneHeight(900, 1, false)).toBe(84);
  });
});
