import { surroundingsOf } from './surroundings';

/**
 * The small luma pictures a proof compares, 96 x 54 of the whole frame, 0..255, rows from the top. A coarser one, a third of
 * that each way, is enough to find a picture among many.
 */
export const GRID = { width: 96, height: 54 } as const;
export const GRID_SIZE = GRID.width * GRID.height;
export const COARSE = { width: 32, height: 18 } as const;
export const COARSE_SIZE = COARSE.width * COARSE.height;

/** Where pictures are compared: 1 for each point of the grid that takes part, 0 for one that does not. */
export type Mask = Uint8Array;
export const wholeMask = (): Mask => new Uint8Array(GRID_SIZE).fill(1);

/** A small picture: as decoded, or between decoded ones. */
export type Luma = Uint8Array | Float32Array;

/** Radius of the neighbourhood by whose mean and spread each point is measured, in points, of small and of coarse pictures. */
const [RADIUS, COARSE_RADIUS] = [5, 3];
/** Spread in code values that is taken to be there at least: below it compression and noise weigh more than the picture. */
const FLOOR = 5;

/**
 * A picture made comparable: each point less the mean of its neighbourhood, over the spread of that, so that colour, exposure
 * and contrast drop out and small movers weigh as much as large edges; outside the mask zero, and of unit length. The product
 * of two, summed, is their agreement, -1..1. All zero where there is no structure.
 */
export function comparable(luma: Luma, mask: Mask): Float32Array {
  return standingOut(luma, mask, GRID.width, GRID.height, RADIUS);
}

/** Each point less the mean of its surroundings, over their spread; of unit length. */
function standingOut(luma: Luma, here: Uint8Array, width: number, height: number, radius: number): Float32Array {
  const { mean, variance } = surroundingsOf(luma, here, width, height, radius);
  const out = new Float32Array(width * height);
  let energy = 0;
  for (let i = 0; i < out.length; i++) {
    if (!here[i]) continue;
    const v = ((luma[i] as number) - (mean[i] as number)) / Math.sqrt((variance[i] as number) + FLOOR * FLOOR);
    out[i] = v;
    energy += v * v;
  }
  return unit(out, energy);
}

/** Mean square below which a picture is blank. */
const BLANK = 0.0004;

function unit(values: Float32Array, energy: number): Float32Array {
  const scale = energy > values.length * BLANK ? 1 / Math.sqrt(energy) : 0;
  for (let i = 0; i < values.length; i++) values[i] = (values[i] as number) * scale;
  return values;
}

/** The agreement of two comparable pictures, -1..1. */
export function agreement(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i] as number) * (b[i] as number);
  return sum;
}

/** Where a coarse picture has points: of each nine most must take part. The same for all pictures of one mask. */
const coarseMasks = new WeakMap<Mask, Uint8Array>();

function coarseMaskOf(mask: Mask): Uint8Array {
  const known = coarseMasks.get(mask);
  if (known) return known;
  const here = new Uint8Array(COARSE_SIZE);
  for (let y = 0, at = 0; y < COARSE.height; y++)
    for (let x = 0; x < COARSE.width; x++, at++) {
      let count = 0;
      for (let j = 0; j < 3; j++) for (let i = 0; i < 3; i++) count += mask[(y * 3 + j) * GRID.width + x * 3 + i] as number;
      here[at] = count > 4 ? 1 : 0;
    }
  coarseMasks.set(mask, here);
  return here;
}

const small = new Float32Array(COARSE_SIZE);

/** Each point of a coarse picture the mean of nine. */
function madeSmall(luma: Luma, mask: Mask, here: Uint8Array): void {
  for (let y = 0, at = 0; y < COARSE.height; y++)
    for (let x = 0; x < COARSE.width; x++, at++) {
      if (!here[at]) continue;
      const from = y * 3 * GRID.width + x * 3;
      let [sum, count] = [0, 0];
      for (let j = 0; j < 3; j++)
        for (let i = 0; i < 3; i++) {
          const p = from + j * GRID.width + i;
          if (!mask[p]) continue;
          sum += luma[p] as number;
          count++;
        }
      small[at] = sum / count;
    }
}

/** The coarse picture of a small one, comparable: each point the mean of nine, less its neighbourhood, of unit length. */
export function coarse(luma: Luma, mask: Mask): Float32Array {
  const here = coarseMaskOf(mask);
  madeSmall(luma, mask, here);
  return standingOut(small, here, COARSE.width, COARSE.height, COARSE_RADIUS);
}

/** The coarse picture less its neighbourhood and nothing more, in code values: linear, so that a mix of pictures is the mix of these. */
export function coarseRelief(luma: Luma, mask: Mask): Float32Array {
  const here = coarseMaskOf(mask);
  madeSmall(luma, mask, here);
  const { mean } = surroundingsOf(small, here, COARSE.width, COARSE.height, COARSE_RADIUS);
  return Float32Array.from(here, (is, i) => (is ? (small[i] as number) - (mean[i] as number) : 0));
}

/** Mean and spread of a picture inside the mask, in code values. */
export function levelOf(luma: Luma, mask: Mask): { mean: number; spread: number } {
  let [sum, square, n] = [0, 0, 0];
  for (let i = 0; i < GRID_SIZE; i++) {
    if (!mask[i]) continue;
    const v = luma[i] as number;
    sum += v;
    square += v * v;
    n++;
  }
  const mean = n > 0 ? sum / n : 0;
  return { mean, spread: n > 0 ? Math.sqrt(Math.max(0, square / n - mean * mean)) : 0 };
}

/** How much there is to compare in a picture: the root mean square of what stands out of its neighbourhood, in code values. */
export function detailOf(luma: Luma, mask: Mask): number {
  const { width, height } = GRID;
  let [sum, n] = [0, 0];
  for (let y = 2; y < height - 2; y++)
    for (let x = 2; x < width - 2; x++) {
      const at = y * width + x;
      if (!mask[at] || !mask[at - 2] || !mask[at + 2] || !mask[at - 2 * width] || !mask[at + 2 * width]) continue;
      const around =
        (luma[at - 2] as number) + (luma[at + 2] as number) + (luma[at - 2 * width] as number) + (luma[at + 2 * width] as number);
      sum += ((luma[at] as number) - around / 4) ** 2;
      n++;
    }
  return n > 0 ? Math.sqrt(sum / n) : 0;
}

/** True for a picture with nothing in it but black, lifted as temporary grades lift it. */
export function isBlack(luma: Luma, mask: Mask): boolean {
  const { mean, spread } = levelOf(luma, mask);
  return mean < 64 && spread < 3;
}
