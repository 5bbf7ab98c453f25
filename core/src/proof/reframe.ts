import { type Area, correlate, GRID, prepare } from './fingerprint';

/** A size and position at which the source agrees with the reference. x and y are shares of the frame. */
export interface Reframe {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
  readonly score: number;
}

const SCALES = [1.05, 1.1, 1.15, 1.2, 1.25, 1.3, 1.35, 1.4, 1.5, 1.6, 1.75, 2];

/**
 * Looks for an enlargement of the source that agrees with the reference better than the full frame.
 * Positions are searched on a coarse grid, then refined around the best. Pictures are GRID luma.
 * Returns the best found; the caller judges its score.
 */
export function findReframe(reference: Uint8Array, source: Uint8Array, area: Area): Reframe {
  const target = prepare(reference, area);
  let best: Reframe = { scale: 1, x: 0, y: 0, score: correlate(target, prepare(source, area)) };
  const attempt = (scale: number, x: number, y: number) => {
    const reach = (scale - 1) / 2;
    if (scale < 1 || Math.abs(x) > reach + 1e-9 || Math.abs(y) > reach + 1e-9) return;
    const score = correlate(target, prepare(enlarged(source, scale, x, y), area));
    if (score > best.score) best = { scale, x, y, score };
  };
  for (const scale of SCALES) {
    const reach = (scale - 1) / 2;
    const steps = Math.max(1, Math.round(reach / 0.035));
    for (let i = -steps; i <= steps; i++) for (let k = -steps; k <= steps; k++) attempt(scale, (reach * i) / steps, (reach * k) / steps);
  }
  for (const [stepScale, stepMove] of [
    [0.02, 0.012],
    [0.008, 0.005],
  ] as const) {
    const around = best;
    for (let s = -2; s <= 2; s++)
      for (let i = -2; i <= 2; i++)
        for (let k = -2; k <= 2; k++) attempt(around.scale + s * stepScale, around.x + i * stepMove, around.y + k * stepMove);
  }
  return best;
}

/** The picture enlarged about its centre and moved by x, y shares of the frame; between pixels, linear. */
export function enlarged(source: Uint8Array, scale: number, x: number, y: number): Uint8Array {
  const { width, height } = GRID;
  const out = new Uint8Array(width * height);
  for (let row = 0; row < height; row++) {
    const fromY = Math.min(height - 1, Math.max(0, (((row + 0.5) / height - 0.5 - y) / scale) * height + height / 2 - 0.5));
    const y0 = Math.min(height - 2, Math.floor(fromY));
    const fy = fromY - y0;
    for (let column = 0; column < width; column++) {
      const fromX = Math.min(width - 1, Math.max(0, (((column + 0.5) / width - 0.5 - x) / scale) * width + width / 2 - 0.5));
      const x0 = Math.min(width - 2, Math.floor(fromX));
      const fx = fromX - x0;
      const at = y0 * width + x0;
      const top = (source[at] as number) * (1 - fx) + (source[at + 1] as number) * fx;
      const bottom = (source[at + width] as number) * (1 - fx) + (source[at + width + 1] as number) * fx;
      out[row * width + column] = top * (1 - fy) + bottom * fy + 0.5;
    }
  }
  return out;
}
