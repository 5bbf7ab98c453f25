import type { Frames } from '../time';
import { GRID, GRID_SIZE, type Luma, type Mask } from './pictures';
import { surroundingsOf } from './surroundings';

/** What one frame of the reference is made of: how much of the incoming side is seen, 0..1, and how much that is to be believed. */
export interface Share {
  readonly share: number;
  readonly weight: number;
}

/** How far around a point its surroundings reach, in points. */
const AROUND = 8;

/** The picture less the mean of its surroundings, nothing more: shares are linear in it. */
export function relief(luma: Luma, mask: Mask): Float32Array {
  const { mean } = surroundingsOf(luma, mask, GRID.width, GRID.height, AROUND);
  const out = new Float32Array(GRID_SIZE);
  for (let i = 0; i < GRID_SIZE; i++) if (mask[i]) out[i] = (luma[i] as number) - (mean[i] as number);
  return out;
}

/** Reliefs with less than this in them, as a mean square in code values, say nothing. */
const FLAT = 4;

/** Below this a mix explains too little to be believed. */
const BELIEVED = 0.4;

/** How much of the incoming picture is seen in a frame of the reference, by least squares between both sides. */
export function shareOf(reference: Luma, leaving: Luma, incoming: Luma, mask: Mask): Share {
  const r = relief(reference, mask);
  const a = relief(leaving, mask);
  const b = relief(incoming, mask);
  let [aa, ab, bb, ra, rb, rr, n] = [0, 0, 0, 0, 0, 0, 0];
  for (let i = 0; i < GRID_SIZE; i++) {
    if (!mask[i]) continue;
    const [x, y, z] = [a[i] as number, b[i] as number, r[i] as number];
    aa += x * x;
    ab += x * y;
    bb += y * y;
    ra += z * x;
    rb += z * y;
    rr += z * z;
    n++;
  }
  const none = { share: 0.5, weight: 0 };
  if (n === 0) return none;
  const determinant = aa * bb - ab * ab;
  // Two sides that look alike cannot be told apart.
  if (aa < FLAT * n || bb < FLAT * n || determinant < 0.05 * aa * bb || rr === 0) return none;
  const u = Math.max(0, (ra * bb - rb * ab) / determinant);
  const v = Math.max(0, (rb * aa - ra * ab) / determinant);
  if (u + v < 0.05) return none;
  const explained = Math.max(0, (u * ra + v * rb) / rr);
  return { share: v / (u + v), weight: explained > BELIEVED ? Math.min(1, explained) * (determinant / (aa * bb)) : 0 };
}

/** How strong a picture is in a frame of the reference, as a factor; null where it says nothing. */
export function strengthOf(reference: Luma, picture: Luma, mask: Mask): number | null {
  const [r, a] = [relief(reference, mask), relief(picture, mask)];
  let [ra, aa] = [0, 0];
  for (let i = 0; i < GRID_SIZE; i++) {
    const x = a[i] as number;
    ra += (r[i] as number) * x;
    aa += x * x;
  }
  return aa < FLAT * GRID_SIZE ? null : ra / aa;
}

/** How one picture goes over into the next: over `frames` from `start` on; 0 is a cut. Frames count on the record. */
export interface Ramp {
  readonly start: Frames;
  readonly frames: Frames;
}

/** How much of the incoming side is seen at a frame: (k+1)/(N+1) in the k-th of N frames. */
export const shareAt = ({ start, frames }: Ramp, at: Frames): number =>
  at < start ? 0 : at >= start + frames ? 1 : (at - start + 1) / (frames + 1);

/** How far a ramp lies from the shares that were measured: mean square, weighted. */
export function misfit(shares: ReadonlyMap<Frames, Share>, ramp: Ramp): number {
  let [sum, weight] = [0, 0];
  for (const [at, { share, weight: w }] of shares) {
    sum += w * (share - shareAt(ramp, at)) ** 2;
    weight += w;
  }
  return weight > 0 ? sum / weight : 0;
}

/** The longest ramp that is looked for. */
const LONGEST: Frames = 120;

/** The ramp that fits what was measured best; of equals the shorter. */
export function bestRamp(shares: ReadonlyMap<Frames, Share>): Ramp & { readonly misfit: number } {
  const frames = [...shares.keys()].sort((a, b) => a - b);
  const [from, to] = [frames[0] ?? 0, (frames.at(-1) ?? 0) + 1];
  let best = { start: from, frames: 0, misfit: Number.POSITIVE_INFINITY };
  for (let length = 0; length <= Math.min(LONGEST, to - from); length++)
    for (let start = from; start + length <= to; start++) {
      const one = misfit(shares, { start, frames: length });
      if (one < best.misfit - 1e-6) best = { start, frames: length, misfit: one };
    }
  return best;
}

/** How much better another place or length must fit: the squares it takes away, over those that are left in a frame. */
export const BETTER = 14;
export const ERROR = 0.002;

/** How sure one explanation is beside another, 0..1, from what either leaves. */
export const surenessOf = (left: number, other: number): number => Math.round(100 * (1 - Math.min(1, left / Math.max(other, 1e-9)))) / 100;
