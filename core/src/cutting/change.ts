import { agreement, coarse, type Luma, levelOf, type Mask } from '../proof';
import type { Frames } from '../time';

/** What is measured of each frame of a movie, in order; from these cuts are found without its pictures. */
export interface Change {
  /** How likely a cut lies before frame n, 0..1: what changes from one side to the other beyond what changes within both. */
  readonly cut: Float32Array;
  /** Spread of each frame's values, in code values: nothing in black. */
  readonly spread: Float32Array;
  /** Mean of each frame's values, 0..255. */
  readonly mean: Float32Array;
}

/** Frames back that a frame is held against. */
const BACK: Frames = 3;

/**
 * Measures a movie in one pass. `picture` gives its small pictures (96 x 54); no more than a few of them are held. Colour,
 * exposure and contrast count for nothing, and a flash of one or two frames is no cut.
 */
export function changeOf(frames: Frames, picture: (n: Frames) => Luma, mask: Mask, each: (n: Frames) => void = () => {}): Change {
  const apart = Array.from({ length: BACK }, () => new Float32Array(frames));
  const [spread, mean] = [new Float32Array(frames), new Float32Array(frames)];
  const held: Float32Array[] = [];
  for (let n = 0; n < frames; n++) {
    each(n);
    const luma = picture(n);
    const level = levelOf(luma, mask);
    spread[n] = level.spread;
    mean[n] = level.mean;
    const here = coarse(luma, mask);
    const distance = (back: Frames) => unlikeness(here, held[(n - back) % (BACK + 1)] as Float32Array);
    for (const [i, row] of apart.entries()) if (n > i) row[n] = distance(i + 1);
    held[n % (BACK + 1)] = here;
  }
  return { cut: cutsOf(apart as [Float32Array, Float32Array, Float32Array]), spread, mean };
}

/** 0 for the same picture, 1 for one that has nothing in common with it. Two blank pictures are the same. */
function unlikeness(a: Float32Array, b: Float32Array): number {
  const [blankA, blankB] = [isBlank(a), isBlank(b)];
  if (blankA || blankB) return blankA === blankB ? 0 : 1;
  return Math.min(1, Math.max(0, 1 - agreement(a, b)));
}

const isBlank = (picture: Float32Array): boolean => agreement(picture, picture) === 0;

/** `by[i][n]`: how unlike frame n is to the frame i + 1 before it. */
function cutsOf([one, two, three]: readonly [Float32Array, Float32Array, Float32Array]): Float32Array {
  const raw = one.map((_, n) => {
    if (n === 0) return 0;
    const at = (row: Float32Array, m: Frames) => row[m];
    const across = Math.min(
      at(one, n) as number,
      n > 1 ? (at(two, n) as number) : 1,
      at(two, n + 1) ?? 1,
      n > 1 ? (at(three, n + 1) ?? 1) : 1,
    );
    const within = Math.max(n > 1 ? (at(one, n - 1) as number) : 0, at(one, n + 1) ?? 0);
    return Math.max(0, across - within);
  });
  // Movement that comes in jerks changes as much at many frames around; a cut between pictures that have nothing in common stands by itself.
  return raw.map((score, n) => (score >= UNLIKE ? score : Math.max(0, score - manyAround(raw, n))));
}

/** At or above this two sides have little in common. */
const UNLIKE = 0.6;
/** How far around movement in jerks is looked for, and how many jerks make it. */
const [AROUND, MANY]: readonly [Frames, number] = [24, 2];

function manyAround(scores: Float32Array, n: Frames): number {
  const others: number[] = [];
  for (let m = Math.max(0, n - AROUND); m <= Math.min(scores.length - 1, n + AROUND); m++)
    if (Math.abs(m - n) > 1) others.push(scores[m] as number);
  return others.sort((a, b) => b - a)[MANY - 1] ?? 0;
}

/** Spread of values below which a frame is blank, and mean below which what is blank is black, in code values. */
export const BLANK = 3;
const BLACK = 64;

/** True where nothing but black is seen from a frame up to another (exclusive). */
export function isBlackBetween({ spread, mean }: Change, from: Frames, until: Frames): boolean {
  for (let n = from; n < until; n++) if ((spread[n] as number) >= BLANK || (mean[n] as number) >= BLACK) return false;
  return until > from;
}
