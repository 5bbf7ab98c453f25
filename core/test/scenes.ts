import { GRID, type Raster } from '../src';

/** A picture in motion, drawn by formula: discs with edges that drift over a slope, so that no two frames are alike. */
function drawnScene(seed: number, n: number, { width, height }: Raster): Uint8Array {
  const out = new Uint8Array(width * height);
  const size = width / 96;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      let v = 70 + y / size;
      for (let k = 1; k <= 9; k++) {
        const cx = (48 + 46 * Math.sin(seed * k + n * 0.017 * k)) * size;
        const cy = (27 + 24 * Math.cos(seed * 1.7 * k + n * 0.013 * (k + 1))) * size;
        const inside = (4 + (k % 4) * 2) * size - Math.sqrt((x + 0.5 - cx) ** 2 + (y + 0.5 - cy) ** 2);
        v += (k % 2 ? 75 : -60) * Math.max(0, Math.min(1, inside / size + 0.5));
      }
      out[i] = Math.max(0, Math.min(255, v));
    }
  return out;
}

/** The same, drawn once. */
const drawn = new Map<string, Uint8Array>();
export function scene(seed: number, n: number, raster: Raster = GRID): Uint8Array {
  const key = `${seed} ${n} ${raster.width}x${raster.height}`;
  const known = drawn.get(key) ?? drawnScene(seed, n, raster);
  drawn.set(key, known);
  return known;
}
