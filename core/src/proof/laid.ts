import type { Lay } from '../conform';
import type { Raster } from '../edit';
import { NATIVE } from './head';
import { GRID, GRID_SIZE, type Luma } from './pictures';

/** Samples that each point takes, each way. */
const SAMPLES = 2;

/**
 * A picture laid on the grid as the cut lays it there: `small` is all of the original at twice the grid's size (`NATIVE`),
 * `lay` puts its pixels, of `raster`, on a canvas of the grid's size. Black where it does not reach.
 */
export function laidOnGrid(small: Uint8Array, { a, b, c, d, e, f, crop }: Lay, raster: Raster): Luma {
  const out = new Float32Array(GRID_SIZE);
  const whole = a * d - b * c;
  if (whole === 0) return out;
  const [across, down] = [NATIVE.width / raster.width, NATIVE.height / raster.height];
  // From points of the grid straight to points of the small picture.
  const [ux, uy, vx, vy] = [(d * across) / whole, (-c * across) / whole, (-b * down) / whole, (a * down) / whole];
  const [left, right, top, bottom] = [crop.left * across, crop.right * across, crop.top * down, crop.bottom * down];
  const { width, height } = NATIVE;
  for (let j = 0; j < SAMPLES; j++)
    for (let i = 0; i < SAMPLES; i++)
      for (let y = 0, at = 0; y < GRID.height; y++) {
        const [px, py] = [(i + 0.5) / SAMPLES - e, y + (j + 0.5) / SAMPLES - f];
        let u = ux * px + uy * py;
        let v = vx * px + vy * py;
        for (let x = 0; x < GRID.width; x++, at++, u += ux, v += vx) {
          if (u < left || u >= right || v < top || v >= bottom) continue;
          const x0 = Math.min(width - 2, Math.max(0, Math.floor(u - 0.5)));
          const y0 = Math.min(height - 2, Math.max(0, Math.floor(v - 0.5)));
          const gx = Math.min(1, Math.max(0, u - 0.5 - x0));
          const gy = Math.min(1, Math.max(0, v - 0.5 - y0));
          const p = y0 * width + x0;
          const upper = (small[p] as number) * (1 - gx) + (small[p + 1] as number) * gx;
          const lower = (small[p + width] as number) * (1 - gx) + (small[p + width + 1] as number) * gx;
          out[at] = (out[at] as number) + (upper * (1 - gy) + lower * gy) / (SAMPLES * SAMPLES);
        }
      }
  return out;
}
