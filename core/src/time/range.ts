import { type Fraction, fraction, over, times } from './fraction';
import type { Frames, Rate, Seconds } from './rate';

/** A span of frames; `out` is the first frame that is no longer in it. Empty when `in === out`. */
export interface FrameRange {
  readonly in: Frames;
  readonly out: Frames;
}

export const range = (start: Frames, end: Frames): FrameRange => ({ in: start, out: end });

/** Number of frames in the span. */
export const lengthOf = (r: FrameRange): Frames => r.out - r.in;

/** True when the frame stands in the span. */
export const contains = (r: FrameRange, frame: Frames): boolean => frame >= r.in && frame < r.out;

/** The frames both spans have, or null when they have none. */
export function overlapOf(a: FrameRange, b: FrameRange): FrameRange | null {
  const start = Math.max(a.in, b.in);
  const end = Math.min(a.out, b.out);
  return start < end ? range(start, end) : null;
}

/** How long a number of frames lasts. */
export const secondsOf = (frames: Frames, rate: Rate): Seconds => (frames * rate.den) / rate.num;

/**
 * Converts by **real time**: the frame of `to` that is on screen when frame `frames` of `from`
 * begins. Whole-number arithmetic up to 2^53, so no rounding drifts in. 24 frames at 24 are 25 at 25.
 */
export function convertByRealTime(frames: Frames, from: Rate, to: Rate): Frames {
  const numerator = BigInt(frames) * BigInt(from.den) * BigInt(to.num);
  const denominator = BigInt(from.num) * BigInt(to.den);
  const quotient = numerator / denominator;
  return Number(numerator < 0n && quotient * denominator !== numerator ? quotient - 1n : quotient);
}

/** The position that frame `at` of `from` has at another rate, exact: frame 1000 of 24 is 1041 2/3 of 25. */
export const carriedExactly = (at: Fraction, from: Rate, to: Rate): Fraction =>
  from.num === to.num && from.den === to.den ? at : times(at, over(fraction(to.num, to.den), fraction(from.num, from.den)));

/**
 * Converts by **frame count**: frame n stays frame n, and the picture runs faster or slower.
 * 24 frames at 24 are 24 frames at 25. It exists so that the choice is written where it is made.
 */
export function convertByFrameCount(frames: Frames, _from: Rate, _to: Rate): Frames {
  return frames;
}
