import type { Frames } from '../time';
import { GRID, type Luma, type Mask } from './pictures';
import { surroundingsOf } from './surroundings';

/** Points of a print, across and down. */
export const PRINT = { width: 16, height: 9 } as const;
export const PRINT_SIZE = PRINT.width * PRINT.height;
/** An original has a print of each so many of its frames, from its first: any so many that follow each other hold one of them. */
export const PRINTED: Frames = 6;

/** Points of the grid to one of a print, each way; how far around a point its surroundings reach. */
const [BLOCK, RADIUS] = [GRID.width / PRINT.width, 3];
/** Spread in code values that is taken to be there at least. */
const FLOOR = 5;
/** What a point that stands out by its surroundings' spread is kept as. */
const UNIT = 40;

/** Where a print has points: of each block most must take part. */
const printMasks = new WeakMap<Mask, Uint8Array>();

function printMaskOf(mask: Mask): Uint8Array {
  const known = printMasks.get(mask);
  if (known) return known;
  const here = new Uint8Array(PRINT_SIZE);
  for (let at = 0; at < PRINT_SIZE; at++) {
    let count = 0;
    eachPoint(at, (p) => {
      count += mask[p] as number;
    });
    here[at] = count * 2 > BLOCK * BLOCK ? 1 : 0;
  }
  printMasks.set(mask, here);
  return here;
}

function eachPoint(at: number, use: (point: number) => void): void {
  const from = Math.floor(at / PRINT.width) * BLOCK * GRID.width + (at % PRINT.width) * BLOCK;
  for (let j = 0; j < BLOCK; j++) for (let i = 0; i < BLOCK; i++) use(from + j * GRID.width + i);
}

const blocks = new Float32Array(PRINT_SIZE);

/** What stands out of its surroundings in blocks of a small picture, in spreads of those; 0 outside the mask. */
function standing(luma: Luma, mask: Mask): Float32Array {
  const here = printMaskOf(mask);
  for (let at = 0; at < PRINT_SIZE; at++) {
    let [sum, count] = [0, 0];
    const from = Math.floor(at / PRINT.width) * BLOCK * GRID.width + (at % PRINT.width) * BLOCK;
    for (let j = 0; j < BLOCK; j++)
      for (let p = from + j * GRID.width; p < from + j * GRID.width + BLOCK; p++) {
        if (!mask[p]) continue;
        sum += luma[p] as number;
        count++;
      }
    blocks[at] = count > 0 ? sum / count : 0;
  }
  const { mean, variance } = surroundingsOf(blocks, here, PRINT.width, PRINT.height, RADIUS);
  const out = new Float32Array(PRINT_SIZE);
  for (let at = 0; at < PRINT_SIZE; at++)
    if (here[at]) out[at] = ((blocks[at] as number) - (mean[at] as number)) / Math.sqrt((variance[at] as number) + FLOOR * FLOOR);
  return out;
}

const WHOLE: Mask = new Uint8Array(GRID.width * GRID.height).fill(1);

/** The print of a small picture: 144 bytes that colour and contrast do not change. */
export function printOf(luma: Luma): Int8Array {
  return Int8Array.from(standing(luma, WHOLE), (v) => Math.max(-127, Math.min(127, Math.round(v * UNIT))));
}

/** A picture that is looked for among prints: of unit length, 0 where it shows nothing of the cut. */
export interface SoughtPrint {
  readonly values: Float32Array;
  readonly here: Uint8Array;
}

export function soughtPrint(luma: Luma, mask: Mask): SoughtPrint {
  const values = standing(luma, mask);
  const length = Math.sqrt(values.reduce((sum, v) => sum + v * v, 0));
  return { values: length > 0 ? values.map((v) => v / length) : values, here: printMaskOf(mask) };
}

/** Pictures that follow each other, as many as there are frames from print to print, and where the first of them lies from the place that is looked for. */
export interface SoughtRun {
  readonly offset: Frames;
  readonly pictures: readonly (SoughtPrint | null)[];
}

/** The run of a length of pictures that begins at an offset; `picture` gives null where there is none. */
export const runFrom = (offset: Frames, picture: (offset: Frames) => SoughtPrint | null): SoughtRun => ({
  offset,
  pictures: Array.from({ length: PRINTED }, (_, i) => picture(offset + i)),
});

/**
 * Runs of an event's pictures, at source frames as the list puts them: what is found is then how far the event lies aside.
 * `reference` gives the picture at one of `at` or soon after it, `expected` the source frame that the list puts there.
 */
export const runsAsListed = (
  at: readonly Frames[],
  expected: (at: Frames) => Frames,
  reference: (at: Frames) => Luma | null,
  mask: Mask,
): SoughtRun[] =>
  at.map((n) =>
    runFrom(expected(n), (sourceFrame) => {
      const luma = reference(n + sourceFrame - expected(n));
      return luma && soughtPrint(luma, mask);
    }),
  );

/** A place in an original: the frame that stands where the list put offset 0, and how well it agrees, -1..1. */
export interface Spot {
  readonly frame: Frames;
  readonly score: number;
}

/**
 * Looks for runs of pictures among the prints of one original, at its own speed. The best places, best first, each the best
 * of its neighbourhood, to the frame as far as prints can tell.
 */
export function placesIn(runs: readonly SoughtRun[], prints: Int8Array, most = 3): Spot[] {
  const count = Math.floor(prints.length / PRINT_SIZE);
  if (count === 0 || runs.length === 0) return [];
  const lengths = new Map<Uint8Array, Float32Array>();
  const lengthsOf = (here: Uint8Array): Float32Array => {
    const known = lengths.get(here) ?? lengthsIn(here, prints, count);
    lengths.set(here, known);
    return known;
  };
  const tables = runs.map((run) => run.pictures.map((p) => p && agreements(p.values, prints, lengthsOf(p.here))));
  const offsets = runs.map((r) => r.offset);
  const [from, to] = [-Math.max(...offsets) - PRINTED + 1, count * PRINTED - Math.min(...offsets)];
  const scores = new Float32Array(Math.max(0, to - from));
  for (let frame = from; frame < to; frame++) {
    let [sum, seen] = [0, 0];
    for (let r = 0; r < runs.length; r++) {
      const first = frame + (offsets[r] as number);
      const into = ((-first % PRINTED) + PRINTED) % PRINTED;
      const value = tables[r]?.[into]?.[(first + into) / PRINTED];
      if (value === undefined) continue;
      sum += value;
      seen++;
    }
    scores[frame - from] = seen * 2 > runs.length ? sum / seen : -1;
  }
  const found: Spot[] = [];
  for (let i = 0; i < scores.length; i++) {
    const score = scores[i] as number;
    if (score > -1 && score >= (scores[i - 1] ?? -1) && score > (scores[i + 1] ?? -1)) found.push({ frame: from + i, score });
    if (found.length > KEPT) best(found, most);
  }
  return best(found, most);
}

/** Places that are held before the best of them are kept. */
const KEPT = 256;

const best = (found: Spot[], most: number): Spot[] => {
  found.sort((a, b) => b.score - a.score);
  found.length = Math.min(found.length, most);
  return found;
};

/** One over the length of each print where the mask has points. */
function lengthsIn(here: Uint8Array, prints: Int8Array, count: number): Float32Array {
  const out = new Float32Array(count);
  for (let n = 0, at = 0; n < count; n++) {
    let square = 0;
    for (let i = 0; i < PRINT_SIZE; i++, at++) square += here[i] ? (prints[at] as number) ** 2 : 0;
    out[n] = square > 0 ? 1 / Math.sqrt(square) : 0;
  }
  return out;
}

/** How well one picture agrees with each print. It is 0 outside its mask, so that nothing there counts. */
function agreements(values: Float32Array, prints: Int8Array, lengths: Float32Array): Float32Array {
  const out = new Float32Array(lengths.length);
  const size = PRINT_SIZE;
  for (let n = 0, at = 0; n < out.length; n++) {
    let [a, b, c, d] = [0, 0, 0, 0];
    for (let i = 0; i < size; i += 4, at += 4) {
      a += (prints[at] as number) * (values[i] as number);
      b += (prints[at + 1] as number) * (values[i + 1] as number);
      c += (prints[at + 2] as number) * (values[i + 2] as number);
      d += (prints[at + 3] as number) * (values[i + 3] as number);
    }
    out[n] = (a + b + c + d) * (lengths[n] as number);
  }
  return out;
}
