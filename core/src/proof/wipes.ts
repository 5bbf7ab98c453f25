import { WIPE_CODES, wipePattern } from '../conform';
import type { Frames } from '../time';
import { type Ramp, type Share, shareAt } from './mix';
import { GRID, type Luma, type Mask } from './pictures';

/** Parts of the frame in which a transition is looked at by itself, 8 x 6 points each. */
const [PART_WIDTH, PART_HEIGHT] = [8, 6];
const WIDE = GRID.width / PART_WIDTH;
const HIGH = GRID.height / PART_HEIGHT;
export const PARTS = WIDE * HIGH;

const partOf = (at: number): number =>
  Math.floor(Math.floor(at / GRID.width) / PART_HEIGHT) * WIDE + Math.floor((at % GRID.width) / PART_WIDTH);
const PART_OF = Uint8Array.from({ length: GRID.width * GRID.height }, (_, at) => partOf(at));

/** How much of the incoming side is seen in each part of a frame, 0..1, and how far that is to be believed. */
export interface PartShares {
  readonly shares: Float32Array;
  readonly weights: Float32Array;
}

/** Parts with less than this in them, as a mean square in code values, say nothing; nor do sides that look so much alike. */
const FLAT = 9;
const ALIKE = 0.1;

/** How code values of the originals come back in the reference: `gain` times, and `offset` more. */
export interface Grading {
  readonly gain: number;
  readonly offset: number;
}

/** The straight line from originals to reference that fits some pairs of pictures best. */
export function gradingOf(pairs: readonly { readonly reference: Luma; readonly picture: Luma }[], mask: Mask): Grading {
  let [n, x, y, xx, xy] = [0, 0, 0, 0, 0];
  for (const { reference, picture } of pairs)
    for (let i = 0; i < mask.length; i++) {
      if (!mask[i]) continue;
      const [a, r] = [picture[i] as number, reference[i] as number];
      n++;
      x += a;
      y += r;
      xx += a * a;
      xy += a * r;
    }
  const spread = n * xx - x * x;
  const gain = spread > 0 ? Math.max(LEAST_GAIN, (n * xy - x * y) / spread) : 1;
  return { gain, offset: n > 0 ? (y - gain * x) / n : 0 };
}

/** Less contrast than this no reference has left of its originals. */
const LEAST_GAIN = 0.1;
/** Levels that differ by less than this, as a mean square in code values, say nothing, and how far they are believed: grades are no straight lines. */
const [SAME_LEVEL, BY_LEVEL] = [150, 0.3];

/**
 * What each part of a frame is made of, by least squares between both sides: by what stands out in a part, its own level aside;
 * where a side has nothing that stands out, by its level.
 */
export function sharesByPart(reference: Luma, leaving: Luma, incoming: Luma, mask: Mask, grading: Grading): PartShares {
  const sums = Array.from({ length: 9 }, () => new Float64Array(PARTS));
  const [n, sa, sb, sr, aa, ab, bb, ra, rb] = sums as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const add = (to: Float64Array, p: number, value: number) => {
    to[p] = (to[p] as number) + value;
  };
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i]) continue;
    const p = PART_OF[i] as number;
    const a = leaving[i] as number;
    const b = incoming[i] as number;
    const r = reference[i] as number;
    add(n, p, 1);
    add(sa, p, a);
    add(sb, p, b);
    add(sr, p, r);
    add(aa, p, a * a);
    add(ab, p, a * b);
    add(bb, p, b * b);
    add(ra, p, r * a);
    add(rb, p, r * b);
  }
  const shares = new Float32Array(PARTS);
  const weights = new Float32Array(PARTS);
  for (let p = 0; p < PARTS; p++) {
    const count = n[p] as number;
    if (count < (PART_WIDTH * PART_HEIGHT) / 2) continue;
    const less = (product: Float64Array, one: Float64Array, other: Float64Array) =>
      (product[p] as number) - ((one[p] as number) * (other[p] as number)) / count;
    const [vaa, vab, vbb, vra, vrb] = [less(aa, sa, sa), less(ab, sa, sb), less(bb, sb, sb), less(ra, sr, sa), less(rb, sr, sb)];
    const determinant = vaa * vbb - vab * vab;
    if (vaa < FLAT * count || vbb < FLAT * count || determinant < ALIKE * vaa * vbb) {
      const apart = ((sb[p] as number) - (sa[p] as number)) / count;
      if (apart * apart < SAME_LEVEL) continue;
      const level = ((sr[p] as number) / count - grading.offset) / grading.gain;
      shares[p] = Math.min(1, Math.max(0, (level - (sa[p] as number) / count) / apart));
      weights[p] = BY_LEVEL;
      continue;
    }
    const u = Math.max(0, (vra * vbb - vrb * vab) / determinant);
    const v = Math.max(0, (vrb * vaa - vra * vab) / determinant);
    if (u + v < 0.1) continue;
    shares[p] = v / (u + v);
    weights[p] = determinant / (vaa * vbb);
  }
  return { shares, weights };
}

/** How much of the incoming side is seen of each frame, as the mean of its parts. */
export function meanShares(seen: ReadonlyMap<Frames, PartShares>): Map<Frames, Share> {
  const out = new Map<Frames, Share>();
  for (const [at, { shares, weights }] of seen) {
    let [sum, weight] = [0, 0];
    for (let p = 0; p < PARTS; p++) {
      sum += (weights[p] as number) * (shares[p] as number);
      weight += weights[p] as number;
    }
    if (weight > 0) out.set(at, { share: sum / weight, weight: 1 });
  }
  return out;
}

/** A way of going over from one picture into the next: a pattern, run forwards or the other way; null is a dissolve. */
export interface Pattern {
  readonly code: string;
  readonly reverse: boolean;
}

/** Steps of a pattern's run that are told apart. */
const STEPS = 96;

const written = (code: number): string => String(code).padStart(3, '0');

/** The pattern of a wipe's code, as edit lists write it; null where it is none that is drawn. */
export const patternOf = (wipeCode: string | null, reverse: boolean): Pattern | null =>
  wipePattern({ type: 'wipe', wipeCode }) && { code: written(Number.parseInt(wipeCode || '1', 10)), reverse };

const PATTERNS: readonly Pattern[] = WIPE_CODES.flatMap((code) => [false, true].map((reverse) => ({ code: written(code), reverse })));

/** How much of each part is covered at each step of a pattern, made when it is asked for. */
const covered = new Map<string, Float32Array>();

function coveredBy({ code, reverse }: Pattern): Float32Array {
  const key = `${code}${reverse ? 'r' : ''}`;
  const known = covered.get(key);
  if (known) return known;
  const found = wipePattern({ type: 'wipe', wipeCode: code });
  const made = new Float32Array((STEPS + 1) * PARTS);
  if (found)
    for (let y = 0, at = 0; y < GRID.height; y++)
      for (let x = 0; x < GRID.width; x++, at++) {
        const order = found((x + 0.5) / GRID.width, (y + 0.5) / GRID.height, GRID.width / GRID.height);
        const first = Math.max(0, Math.ceil((reverse ? 1 - order : order) * STEPS));
        for (let step = first; step <= STEPS; step++) {
          const to = step * PARTS + (PART_OF[at] as number);
          made[to] = (made[to] as number) + 1 / (PART_WIDTH * PART_HEIGHT);
        }
      }
  covered.set(key, made);
  return made;
}

/** How far the parts of all frames lie from what a pattern would show of them: squares, one a frame, each part by its weight. */
export function misfitOf(seen: ReadonlyMap<Frames, PartShares>, ramp: Ramp, pattern: Pattern | null): number {
  const table = pattern && coveredBy(pattern);
  let sum = 0;
  for (const [at, { shares, weights }] of seen) {
    const share = shareAt(ramp, at);
    const row = Math.round(share * STEPS) * PARTS;
    let [squares, weight] = [0, 0];
    for (let p = 0; p < PARTS; p++) {
      const w = weights[p] as number;
      if (w === 0) continue;
      const wanted = table ? (table[row + p] as number) : share;
      squares += w * ((shares[p] as number) - wanted) ** 2;
      weight += w;
    }
    if (weight > 0) sum += squares / weight;
  }
  return sum;
}

/** A transition as it was told part by part. */
export interface ToldPattern {
  readonly pattern: Pattern | null;
  readonly ramp: Ramp;
  readonly misfit: number;
}

/** Frames by which a pattern may begin and end elsewhere than the whole of the picture says, and as a share of its length. */
const ASIDE: Frames = 4;
const ASIDE_SHARE = 0.4;

/** The place and length at which a pattern fits best, near a ramp that the whole picture told. */
export function patternAround(seen: ReadonlyMap<Frames, PartShares>, { start, frames }: Ramp, pattern: Pattern | null): ToldPattern {
  const reach = Math.max(ASIDE, Math.ceil(frames * ASIDE_SHARE));
  let best: ToldPattern = { pattern, ramp: { start, frames }, misfit: misfitOf(seen, { start, frames }, pattern) };
  const attempt = (from: Frames, to: Frames): boolean => {
    if (to - from < 2) return false;
    const ramp = { start: from, frames: to - from };
    const misfit = misfitOf(seen, ramp, pattern);
    if (misfit >= best.misfit - 1e-9) return false;
    best = { pattern, ramp, misfit };
    return true;
  };
  for (let i = -reach; i <= reach; i += 2) for (let j = -reach; j <= reach; j += 2) attempt(start + i, start + frames + j);
  for (let climbing = true; climbing; ) {
    const { start: from, frames: length } = best.ramp;
    climbing = false;
    for (let i = -1; i <= 1; i++) for (let j = -1; j <= 1; j++) if (attempt(from + i, from + length + j)) climbing = true;
  }
  return best;
}

/** A pattern must leave no more than this of what another leaves unexplained, and so much must be left by that, in squares. */
const OF_OTHER = 0.6;
const LEAST = 0.4;

/** True where one way of going over explains the parts clearly better than another. */
export const isClearlyOf = (one: ToldPattern, other: ToldPattern): boolean => other.misfit >= LEAST && one.misfit < OF_OTHER * other.misfit;

/** Patterns that are tried at every place and length: those that fit best where the whole picture puts them. */
const CHOSEN = 8;

/**
 * How one picture goes over into the next, part by part: as a dissolve, or by which of the patterns. `ramp`: where the whole
 * picture says it runs.
 */
export function toldPattern(seen: ReadonlyMap<Frames, PartShares>, ramp: Ramp): ToldPattern {
  const dissolve = patternAround(seen, ramp, null);
  const [best] = PATTERNS.map((pattern) => ({ pattern, misfit: misfitOf(seen, ramp, pattern) }))
    .sort((a, b) => a.misfit - b.misfit)
    .slice(0, CHOSEN)
    .map(({ pattern }) => patternAround(seen, ramp, pattern))
    .sort((a, b) => a.misfit - b.misfit);
  return best && isClearlyOf(best, dissolve) ? best : dissolve;
}
