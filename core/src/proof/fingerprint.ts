/**
 * The small luma pictures a proof compares. 96 x 54 keeps a hand's movement visible and costs 5 KB.
 * Values are 0..255, rows from the top.
 */
export const GRID = { width: 96, height: 54 } as const;
export const GRID_SIZE = GRID.width * GRID.height;

/** The part of the grid that holds picture, bounds exclusive at right and bottom. */
export interface Area {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
  /** Parts inside it that are left out, such as where a title lies. */
  readonly holes?: readonly Omit<Area, 'holes'>[];
}

export const WHOLE: Area = { left: 0, top: 0, right: GRID.width, bottom: GRID.height };

/** Above video black (16) with room for noise and compression. */
const BLACK = 30;

/**
 * Finds the picture between black bars: rows and columns that stay black in every frame given are
 * left out, and one more on each side for the soft edge. Frames that are black throughout say
 * nothing; with none left, or with less than a third of the frame in picture, the whole is used.
 */
export function findPictureArea(frames: readonly Uint8Array[]): Area {
  const rowPeak = new Uint8Array(GRID.height);
  const columnPeak = new Uint8Array(GRID.width);
  for (const frame of frames)
    for (let y = 0, at = 0; y < GRID.height; y++)
      for (let x = 0; x < GRID.width; x++, at++) {
        const v = frame[at] as number;
        if (v > (rowPeak[y] as number)) rowPeak[y] = v;
        if (v > (columnPeak[x] as number)) columnPeak[x] = v;
      }
  const [top, bottom] = inside(rowPeak);
  const [left, right] = inside(columnPeak);
  const share = ((bottom - top) * (right - left)) / GRID_SIZE;
  return share > 1 / 3 ? { left, top, right, bottom } : WHOLE;
}

/**
 * The run of picture around the middle: bars are what is black on the outside. A burn-in printed on
 * a bar does not make it picture, because the search goes outward and stops at the first black line.
 */
function inside(peaks: Uint8Array): [number, number] {
  const middle = peaks.length >> 1;
  let start = middle;
  let end = middle;
  while (start > 0 && (peaks[start - 1] as number) > BLACK) start--;
  while (end < peaks.length && (peaks[end] as number) > BLACK) end++;
  const margin = (edge: number) => (edge === 0 || edge === peaks.length ? 0 : 1);
  return [start + margin(start), end - margin(end)];
}

/** Radius of the neighbourhood whose mean is taken off each pixel, in grid pixels. */
const RADIUS = 4;

/**
 * A picture made comparable: the local mean is taken off, so that colour, exposure and vignettes
 * drop out, and the rest is brought to unit length inside the area. The product of two such
 * pictures, summed, is their normalised correlation, -1..1. A picture without structure is all zero.
 */
export function prepare(frame: Uint8Array, area: Area): Float32Array {
  const { values, energy } = structureOf(frame, area);
  const scale = energy > values.length * MINIMUM_DETAIL ? 1 / Math.sqrt(energy) : 0;
  for (let i = 0; i < values.length; i++) values[i] = (values[i] as number) * scale;
  return values;
}

/** How much there is to compare in a picture: the root mean square of what stands out of its neighbourhood, in code values. */
export function detailOf(frame: Uint8Array, area: Area): number {
  const { values, energy } = structureOf(frame, area);
  return Math.sqrt(energy / values.length);
}

/** A picture less its local mean and its mean, with the sum of its squares. */
function structureOf(frame: Uint8Array, area: Area): { values: Float32Array; energy: number } {
  const width = area.right - area.left;
  const height = area.bottom - area.top;
  const sums = integral(frame, area);
  const values = new Float32Array(width * height);
  let mean = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const v = (frame[(y + area.top) * GRID.width + x + area.left] as number) - localMean(sums, x, y, width, height);
      values[y * width + x] = v;
      mean += v;
    }
  mean /= values.length;
  for (let i = 0; i < values.length; i++) values[i] = (values[i] as number) - mean;
  for (const hole of area.holes ?? [])
    for (let y = Math.max(area.top, hole.top); y < Math.min(area.bottom, hole.bottom); y++)
      for (let x = Math.max(area.left, hole.left); x < Math.min(area.right, hole.right); x++)
        values[(y - area.top) * width + x - area.left] = 0;
  let energy = 0;
  for (let i = 0; i < values.length; i++) energy += (values[i] as number) ** 2;
  return { values, energy };
}

/** Variance below which a picture is blank: a quarter of one code value, squared. */
const MINIMUM_DETAIL = 0.0625;

function integral(frame: Uint8Array, area: Area): Float64Array {
  const width = area.right - area.left;
  const height = area.bottom - area.top;
  const sums = new Float64Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++) {
    let row = 0;
    for (let x = 0; x < width; x++) {
      row += frame[(y + area.top) * GRID.width + x + area.left] as number;
      sums[(y + 1) * (width + 1) + x + 1] = (sums[y * (width + 1) + x + 1] as number) + row;
    }
  }
  return sums;
}

function localMean(sums: Float64Array, x: number, y: number, width: number, height: number): number {
  const left = Math.max(0, x - RADIUS);
  const right = Math.min(width, x + RADIUS + 1);
  const top = Math.max(0, y - RADIUS) * (width + 1);
  const bottom = Math.min(height, y + RADIUS + 1) * (width + 1);
  const sum =
    (sums[bottom + right] as number) - (sums[top + right] as number) - (sums[bottom + left] as number) + (sums[top + left] as number);
  return (sum * (width + 1)) / ((right - left) * (bottom - top));
}

/** Normalised correlation of two prepared pictures, -1..1. */
export function correlate(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i] as number) * (b[i] as number);
  return sum;
}

/** A part of the frame, in shares of its width and height, on the grid: all that it touches, and `margin` more on each side. */
export const onGrid = (part: { left: number; top: number; right: number; bottom: number }, margin = 0): Area => ({
  left: Math.max(0, Math.floor(part.left * GRID.width) - margin),
  top: Math.max(0, Math.floor(part.top * GRID.height) - margin),
  right: Math.min(GRID.width, Math.ceil(part.right * GRID.width) + margin),
  bottom: Math.min(GRID.height, Math.ceil(part.bottom * GRID.height) + margin),
});
