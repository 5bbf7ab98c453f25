import { describe, expect, it } from 'vitest';
import { chromaOf, levelsOf, PLANE, WAVE } from '.';

const picture = (width: number, height: number, at: (x: number) => readonly [number, number, number]) => {
  const pixels = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) pixels.set([...at(x), 255], (y * width + x) * 4);
  return levelsOf(pixels, { width, height });
};

describe('the plane of colours', () => {
  it('has the primaries of Rec. 709 where the standard has them (ITU-R BT.709, colour difference signals)', () => {
    const near = ([cb, cr]: readonly [number, number], x: number, y: number) => {
      expect(cb).toBeCloseTo(x, 3);
      expect(cr).toBeCloseTo(y, 3);
    };
    near(chromaOf([1, 0, 0]), -0.1146, 0.5);
    near(chromaOf([0, 1, 0]), -0.3854, -0.4542);
    near(chromaOf([0, 0, 1]), 0.5, -0.0458);
    near(chromaOf([1, 1, 1]), 0, 0);
  });
  it('counts each pixel once, grey in the middle', () => {
    const { plane } = picture(16, 4, () => [90, 90, 90]);
    expect(plane[(PLANE / 2) * PLANE + PLANE / 2]).toBe(64);
    expect(plane.reduce((a, b) => a + b)).toBe(64);
  });
});

describe('the waves', () => {
  it('show a ramp as a line that rises from the left, and red alone in its own wave', () => {
    const { waves } = picture(WAVE.columns, 2, (x) => [x, 0, 0]);
    const [, red, green] = waves;
    for (const column of [0, 100, 239]) expect(red[column * WAVE.levels + (column >> 1)]).toBe(2);
    expect(green[100 * WAVE.levels]).toBe(2);
  });
  it('weigh green most (ITU-R BT.709: 0.7152)', () => {
    const level = (r: number, g: number, b: number) => picture(1, 1, () => [r, g, b]).waves[0].findIndex((n) => n > 0);
    expect([level(255, 0, 0), level(0, 255, 0), level(0, 0, 255)]).toEqual([27, 91, 9]);
  });
});
