import { GRID } from './pictures';

/** Half a small picture each way, and the field that holds it: a power of two each way, zero beyond the picture. */
export const HALF = { width: GRID.width / 2, height: GRID.height / 2 } as const;
const [WIDE, HIGH] = [64, 32];

/** Where one picture lies best over another: how far to the right and down, in points of half pictures, and their product there. */
export interface Peak {
  readonly dx: number;
  readonly dy: number;
  readonly value: number;
}

/** A field of complex numbers, row by row. */
interface Field {
  readonly re: Float64Array;
  readonly im: Float64Array;
}
const newField = (): Field => ({ re: new Float64Array(WIDE * HIGH), im: new Float64Array(WIDE * HIGH) });

/**
 * Lays half pictures over one at every place at once, by way of the Fourier transform: the product is the convolution
 * theorem's. Takes one or two pictures: the second travels in the imaginary part of the first, as both are real.
 */
export function correlator(target: Float32Array): (pictures: readonly Float32Array[]) => Peak[] {
  const over = newField();
  fill(over.re, target);
  transform(over, false);
  const field = newField();
  return (pictures) => {
    fill(field.re, pictures[0] ?? null);
    fill(field.im, pictures[1] ?? null);
    transform(field, false);
    multiply(field, over);
    transform(field, true);
    return pictures.map((_, i) => (i === 0 ? peak(field.re, 1) : peak(field.im, -1)));
  };
}

function fill(values: Float64Array, picture: Float32Array | null): void {
  values.fill(0);
  if (!picture) return;
  for (let y = 0; y < HALF.height; y++) values.set(picture.subarray(y * HALF.width, (y + 1) * HALF.width), y * WIDE);
}

/** Takes the conjugate of the one times the other into the one. */
function multiply(one: Field, other: Field): void {
  for (let i = 0; i < one.re.length; i++) {
    const a = one.re[i] as number;
    const b = -(one.im[i] as number);
    const c = other.re[i] as number;
    const d = other.im[i] as number;
    one.re[i] = a * c - b * d;
    one.im[i] = a * d + b * c;
  }
}

/** The greatest of values, or of their opposites. */
function peak(values: Float64Array, sign: 1 | -1): Peak {
  let [at, best] = [0, Number.NEGATIVE_INFINITY];
  for (let i = 0; i < values.length; i++) {
    const v = sign * (values[i] as number);
    if (v <= best) continue;
    at = i;
    best = v;
  }
  return {
    dx: (((at % WIDE) + WIDE / 2) % WIDE) - WIDE / 2,
    dy: ((Math.floor(at / WIDE) + HIGH / 2) % HIGH) - HIGH / 2,
    value: best,
  };
}

/** The Fourier transform of a field, rows then columns, in place; what comes back is not divided by the number of points. */
function transform(field: Field, back: boolean): void {
  // Before it has been transformed there is nothing below the picture.
  for (let y = 0; y < (back ? HIGH : HALF.height); y++) alongRow(field, y * WIDE, back);
  alongColumns(field, back);
}

/** Turns of the transform, of the longer side; of the shorter every second. */
const COS = Float64Array.from({ length: WIDE / 2 }, (_, k) => Math.cos((2 * Math.PI * k) / WIDE));
const SIN = Float64Array.from({ length: WIDE / 2 }, (_, k) => -Math.sin((2 * Math.PI * k) / WIDE));

/** Pairs of places that change places before halving: those whose numbers read backwards in bits are each other's. */
function swapsOf(length: number): readonly (readonly [number, number])[] {
  const bits = Math.log2(length);
  const reversed = (n: number) => Number.parseInt(n.toString(2).padStart(bits, '0').split('').reverse().join(''), 2);
  return Array.from({ length }, (_, i) => [i, reversed(i)] as const).filter(([i, j]) => i < j);
}
const [ROW_SWAPS, COLUMN_SWAPS] = [swapsOf(WIDE), swapsOf(HIGH)];

/** One row, by halving (Cooley and Tukey). */
function alongRow({ re, im }: Field, from: number, back: boolean): void {
  for (const [i, j] of ROW_SWAPS) {
    swap(re, from + i, from + j);
    swap(im, from + i, from + j);
  }
  for (let size = 2; size <= WIDE; size <<= 1)
    for (let k = 0, half = size >> 1, turn = WIDE / size; k < half; k++) {
      const c = COS[k * turn] as number;
      const s = back ? -(SIN[k * turn] as number) : (SIN[k * turn] as number);
      for (let a = from + k; a < from + WIDE; a += size) butterfly(re, im, a, a + half, c, s);
    }
}

/** All columns at once: what is done to one place of a column is done along its whole row. */
function alongColumns({ re, im }: Field, back: boolean): void {
  for (const [i, j] of COLUMN_SWAPS)
    for (let x = 0; x < WIDE; x++) {
      swap(re, i * WIDE + x, j * WIDE + x);
      swap(im, i * WIDE + x, j * WIDE + x);
    }
  for (let size = 2; size <= HIGH; size <<= 1)
    for (let k = 0, half = size >> 1, turn = WIDE / size; k < half; k++) {
      const c = COS[k * turn] as number;
      const s = back ? -(SIN[k * turn] as number) : (SIN[k * turn] as number);
      for (let y = k; y < HIGH; y += size) for (let a = y * WIDE, end = a + WIDE; a < end; a++) butterfly(re, im, a, a + half * WIDE, c, s);
    }
}

function swap(values: Float64Array, i: number, j: number): void {
  const kept = values[i] as number;
  values[i] = values[j] as number;
  values[j] = kept;
}

function butterfly(re: Float64Array, im: Float64Array, a: number, b: number, c: number, s: number): void {
  const x = re[b] as number;
  const y = im[b] as number;
  const tRe = x * c - y * s;
  const tIm = x * s + y * c;
  re[b] = (re[a] as number) - tRe;
  im[b] = (im[a] as number) - tIm;
  re[a] = (re[a] as number) + tRe;
  im[a] = (im[a] as number) + tIm;
}
