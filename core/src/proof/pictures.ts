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

/** Radius of the neighbourhood by whose mean and spread each point is measured, in points. */
const RADIUS = 5;
/** Spread in code values that is taken to be there at least: below it compression and noise weigh more than the picture. */
const FLOOR = 5;

const across = GRID.width + 1;
const sums = new Float64Array(across * (GRID.height + 1));
const squares = new Float64Array(across * (GRID.height + 1));
const counts = new Float64Array(across * (GRID.height + 1));

/**
 * A picture made comparable: each point less the mean of its neighbourhood, over the spread of that, so that colour, exposure
 * and contrast drop out and small movers weigh as much as large edges; outside the mask zero, and of unit length. The product
 * of two, summed, is their agreement, -1..1. All zero where there is no structure.
 */
export function comparable(luma: Luma, mask: Mask): Float32Array {
  const { width, height } = GRID;
  for (let y = 0, at = 0; y < height; y++) {
    let [sum, square, count] = [0, 0, 0];
    const above = y * across;
    const row = above + across;
    for (let x = 0; x < width; x++, at++) {
      if (mask[at]) {
        const v = luma[at] as number;
        sum += v;
        square += v * v;
        count++;
      }
      sums[row + x + 1] = (sums[above + x + 1] as number) + sum;
      squares[row + x + 1] = (squares[above + x + 1] as number) + square;
      counts[row + x + 1] = (counts[above + x + 1] as number) + count;
    }
  }
  const out = new Float32Array(GRID_SIZE);
  let energy = 0;
  for (let y = 0, at = 0; y < height; y++) {
    const top = Math.max(0, y - RADIUS) * across;
    const bottom = Math.min(height, y + RADIUS + 1) * across;
    for (let x = 0; x < width; x++, at++) {
      if (!mask[at]) continue;
      const left = Math.max(0, x - RADIUS);
      const right = Math.min(width, x + RADIUS + 1);
      const n = boxOf(counts, left, right, top, bottom);
      const mean = boxOf(sums, left, right, top, bottom) / n;
      const spread = boxOf(squares, left, right, top, bottom) / n - mean * mean;
      const v = ((luma[at] as number) - mean) / Math.sqrt(Math.max(0, spread) + FLOOR * FLOOR);
      out[at] = v;
      energy += v * v;
    }
  }
  return unit(out, energy);
}

const boxOf = (table: Float64Array, left: number, right: number, top: number, bottom: number): number =>
  (table[bottom + right] as number) - (table[top + right] as number) - (table[bottom + left] as number) + (table[top + left] as number);

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

/** The coarse picture of a small one, comparable: each point the mean of nine, less its neighbourhood, of unit length. */
export function coarse(luma: Luma, mask: Mask): Float32Array {
  const { width, height } = COARSE;
  const small = new Float32Array(COARSE_SIZE);
  const here = new Uint8Array(COARSE_SIZE);
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++) {
      const from = y * 3 * GRID.width + x * 3;
      let [sum, count] = [0, 0];
      for (let j = 0; j < 3; j++)
        for (let i = 0; i < 3; i++) {
          const p = from + j * GRID.width + i;
          if (!mask[p]) continue;
          sum += luma[p] as number;
          count++;
        }
      small[at] = count > 0 ? sum / count : 0;
      here[at] = count > 4 ? 1 : 0;
    }
  const out = new Float32Array(COARSE_SIZE);
  let energy = 0;
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++) {
      if (!here[at]) continue;
      let [sum, square, n] = [0, 0, 0];
      for (let j = Math.max(0, y - 3); j < Math.min(height, y + 4); j++)
        for (let i = Math.max(0, x - 3); i < Math.min(width, x + 4); i++) {
          const p = j * width + i;
          if (!here[p]) continue;
          const v = small[p] as number;
          sum += v;
          square += v * v;
          n++;
        }
      const mean = sum / n;
      const v = ((small[at] as number) - mean) / Math.sqrt(Math.max(0, square / n - mean * mean) + FLOOR * FLOOR);
      out[at] = v;
      energy += v * v;
    }
  return unit(out, energy);
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
