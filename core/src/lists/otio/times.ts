import {
  carriedExactly,
  decimalOf,
  type Fraction,
  type Frames,
  fraction,
  fractionOf,
  over,
  plus,
  type Rate,
  rateFromDecimal,
  times,
} from '../../time';
import type { OtioRange, OtioTime } from './schema';

/** The rate a time is counted at: 23.976 stands for 24000/1001; null where it is none a cut could have. */
export const rateOf = (time: OtioTime | null | undefined): Rate | null => (time ? rateFromDecimal(time.rate) : null);

/** Decimals this near a whole number are it: other systems add up binary fractions. */
const NEAR = 1e-6;
/** Decimals that stand for no simpler fraction are taken to a thousandth. */
const FINEST = 10_000;

function countOf({ value }: OtioTime): Fraction {
  const whole = Math.round(value);
  if (Math.abs(value - whole) < NEAR) return fraction(whole);
  const exact = fractionOf(value);
  return exact.den <= FINEST ? exact : fraction(Math.round(value * 1000), 1000);
}

/** A time in frames at a rate, exact. */
export function exactly(time: OtioTime, rate: Rate): Fraction {
  const own = rateOf(time);
  if (own) return carriedExactly(countOf(time), own, rate);
  // Times may be counted in samples of sound.
  return times(countOf(time), over(fraction(rate.num, rate.den), fractionOf(time.rate)));
}

/** The sum of two positions. */
export const added = (a: Fraction, b: Fraction): Fraction => (a.den === 1 && b.den === 1 ? { num: a.num + b.num, den: 1 } : plus(a, b));

/** The frame that a position is nearest to. */
export const nearest = (at: Fraction): Frames => (at.den === 1 ? at.num : Math.round(decimalOf(at)));

/** A time in frames at a rate, to the nearest frame. */
export const frames = (time: OtioTime, rate: Rate): Frames => nearest(exactly(time, rate));

/** A range as it is written, in its own counts and rates. */
export const timesText = ({ start_time, duration }: OtioRange): string =>
  `${start_time.value}@${start_time.rate} ${duration.value}@${duration.rate}`;
