import type { Frames } from '../time';

/** Where a source runs under an event: it stands at `start + speed x offset` at a record offset, in its own frames, floored. */
export interface Line {
  readonly start: number;
  readonly speed: number;
}

export const frameOn = ({ start, speed }: Line, offset: Frames): Frames => Math.floor(start + speed * offset + 1e-6);

/**
 * How well some pictures of the reference agree with every frame of a source: `at(i, n)` for the i-th of them. The frames
 * from `first` up to `end` (exclusive) are there.
 */
export interface Table {
  readonly offsets: readonly Frames[];
  readonly first: Frames;
  readonly end: Frames;
  readonly values: Float32Array;
}

/**
 * Makes the table; `picture` gives the comparable picture of a source frame, null where there is none. `moving`: it is another at
 * every offset, and is asked for at each.
 */
export function tableOf(
  offsets: readonly Frames[],
  references: readonly Float32Array[],
  first: Frames,
  end: Frames,
  picture: (n: Frames, offset: Frames) => Float32Array | null,
  moving = false,
): Table {
  const width = Math.max(0, end - first);
  const values = new Float32Array(offsets.length * width).fill(Number.NaN);
  for (let n = first; n < end; n++) {
    let one = picture(n, offsets[0] ?? 0);
    for (let i = 0; i < offsets.length; i++) {
      if (moving && i > 0) one = picture(n, offsets[i] as Frames);
      if (!one) continue;
      const reference = references[i] as Float32Array;
      let sum = 0;
      for (let p = 0; p < one.length; p++) sum += (one[p] as number) * (reference[p] as number);
      values[i * width + n - first] = sum;
    }
  }
  return { offsets, first, end, values };
}

/** So many of the pictures must find a frame for a place to count. */
const ENOUGH = 0.6;

/** The mean agreement where `frameAt` puts each picture; null where too few have a frame. */
export function meanAt({ offsets, first, end, values }: Table, frameAt: (offset: Frames) => Frames): number | null {
  const width = end - first;
  let [sum, count] = [0, 0];
  for (let i = 0; i < offsets.length; i++) {
    const n = frameAt(offsets[i] as Frames);
    if (n < first || n >= end) continue;
    const v = values[i * width + n - first] as number;
    if (Number.isNaN(v)) continue;
    sum += v;
    count++;
  }
  return count >= offsets.length * ENOUGH && count > 0 ? sum / count : null;
}

export interface Slip {
  readonly frames: Frames;
  readonly score: number;
}

/** The slips at which the table agrees best, each the best of its neighbourhood, best first. */
export function slipsOf(table: Table, expected: (offset: Frames) => Frames, most = 3): Slip[] {
  const at = table.offsets.map(expected);
  const from = table.first - Math.max(...at);
  const to = table.end - Math.min(...at);
  const scores: (number | null)[] = [];
  for (let d = from; d <= to; d++) scores.push(meanAt(table, (k) => expected(k) + d));
  const found: Slip[] = [];
  scores.forEach((score, i) => {
    if (score === null) return;
    const [before, after] = [scores[i - 1] ?? Number.NEGATIVE_INFINITY, scores[i + 1] ?? Number.NEGATIVE_INFINITY];
    if (score >= before && score >= after) found.push({ frames: from + i, score });
  });
  return found.sort((a, b) => b.score - a.score || Math.abs(a.frames) - Math.abs(b.frames)).slice(0, most);
}

/** The fastest speed that is looked for, either way, as a factor. */
const FASTEST = 4;

/** The straight run through the table that agrees best, at any speed: steps of one frame from end to end. */
export function bestLine(table: Table, length: Frames): (Line & { readonly score: number }) | null {
  const { offsets, first, end, values } = table;
  const width = end - first;
  const step = 1 / Math.max(8, length - 1);
  const middle = (length - 1) / 2;
  let best: (Line & { readonly score: number }) | null = null;
  const steps = Math.round(FASTEST / step);
  for (let s = -steps; s <= steps; s++) {
    const speed = s * step;
    const shifts = offsets.map((k) => speed * (k - middle));
    for (let at = first; at < end; at++) {
      let [sum, count] = [0, 0];
      for (let i = 0; i < shifts.length; i++) {
        const n = Math.floor(at + (shifts[i] as number) + 0.5) - first;
        if (n < 0 || n >= width) continue;
        const v = values[i * width + n] as number;
        if (Number.isNaN(v)) continue;
        sum += v;
        count++;
      }
      if (count < offsets.length * ENOUGH) continue;
      const score = sum / count;
      if (!best || score > best.score + 1e-9) best = { speed, start: at + 0.5 - speed * middle, score };
    }
  }
  return best;
}

/**
 * Whether one run explains the pictures better than another, frame by frame: the mean of the differences over its standard
 * error, frames that follow each other counting as one of three (they resemble each other). Above 4 it is no accident.
 */
export function surerBy(better: readonly number[], worse: readonly number[]): number {
  const n = better.length;
  if (n < 3) return 0;
  let sum = 0;
  for (let i = 0; i < n; i++) sum += (better[i] as number) - (worse[i] as number);
  const mean = sum / n;
  let square = 0;
  for (let i = 0; i < n; i++) square += ((better[i] as number) - (worse[i] as number) - mean) ** 2;
  const spread = Math.sqrt(square / (n - 1));
  return mean / (spread / Math.sqrt(Math.max(n / 3, Math.min(n, FEW))) + LEAST);
}

export const meanOf = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

/** How often the spread of the better run goes into what it gains. */
const STEADY = 4;

/**
 * True where a run at another speed explains the pictures better than a slip, which is right at one frame and ever more wrong
 * away from it: what is gained differs from frame to frame by its nature, and is held against how evenly the better run agrees.
 */
export function isSteadilyBetter(better: readonly number[], worse: readonly number[]): boolean {
  const n = better.length;
  if (n < 3) return false;
  const mean = better.reduce((a, b) => a + b, 0) / n;
  const gained = mean - worse.reduce((a, b) => a + b, 0) / n;
  const spread = Math.sqrt(better.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (n - 1));
  return gained / (spread / Math.sqrt(Math.max(n / 3, Math.min(n, FEW))) + LEAST) >= STEADY;
}

/** So few frames count one by one. */
const FEW = 4;
/** A difference of agreement below this is nothing, however regular it is. */
const LEAST = 0.0002;

/** Certainty that stands by itself, and one that does where little is left unexplained beside the other: no more than this share. */
const [CERTAIN, LIKELY] = [6, 2.5];
const LEFT = 0.5;

/** True where one run explains the pictures clearly better: surely, or so that half of what the other leaves unexplained is gone. */
export function isClearly(better: readonly number[], worse: readonly number[]): boolean {
  const sure = surerBy(better, worse);
  if (sure >= CERTAIN) return true;
  const left = (values: readonly number[]) => values.reduce((sum, v) => sum + 1 - v, 0);
  return sure >= LIKELY && left(better) <= LEFT * left(worse);
}
