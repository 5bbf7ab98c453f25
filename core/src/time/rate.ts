import { commonDivisor } from './fraction';

/**
 * Units of time. Each is a plain number at run time; the optional tag keeps seconds from being
 * passed where frames are asked for.
 */
export type Frames = number & { readonly __unit?: 'frames' };
export type Seconds = number & { readonly __unit?: 'seconds' };

/**
 * A frame rate as an exact fraction, with the way its timecode is counted.
 * `num`/`den` are positive integers (24000/1001 is 23.976). `dropFrame` is only ever true for
 * multiples of 30000/1001 (SMPTE ST 12-1 for 29.97, common practice for 59.94 and 119.88).
 */
export interface Rate {
  readonly num: number;
  readonly den: number;
  readonly dropFrame: boolean;
}

const rate = (num: number, den = 1, dropFrame = false): Rate => ({ num, den, dropFrame });

/** The rates of the trade, by the name people call them. */
export const RATES = {
  '23.976': rate(24000, 1001),
  '24': rate(24),
  '25': rate(25),
  '29.97': rate(30000, 1001),
  '29.97df': rate(30000, 1001, true),
  '30': rate(30),
  '47.952': rate(48000, 1001),
  '48': rate(48),
  '50': rate(50),
  '59.94': rate(60000, 1001),
  '59.94df': rate(60000, 1001, true),
  '60': rate(60),
  '119.88': rate(120000, 1001),
  '119.88df': rate(120000, 1001, true),
  '120': rate(120),
} as const satisfies Record<string, Rate>;

/** The whole number of frame labels in one second of timecode: 24 for 24000/1001, 30 for 29.97. */
export function nominal(r: Rate): number {
  return Math.round(r.num / r.den);
}

/** Frames per second as a decimal; for display and measuring, never for counting. */
export function framesPerSecond(r: Rate): number {
  return r.num / r.den;
}

/** True when both run equally fast; the way of counting may differ. */
export function sameSpeed(a: Rate, b: Rate): boolean {
  return a.num * b.den === b.num * a.den;
}

/** True when drop-frame counting exists at this rate: multiples of 30000/1001. */
export function canDropFrames(r: Rate): boolean {
  return r.den === 1001 && r.num % 30000 === 0;
}

/**
 * Makes a rate from any fraction, brought to lowest terms.
 * Throws RangeError when a part is not a positive integer, or when drop-frame is asked of a rate
 * that has none.
 */
export function rateOf(num: number, den = 1, dropFrame = false): Rate {
  if (!Number.isInteger(num) || !Number.isInteger(den) || num <= 0 || den <= 0)
    throw new RangeError(`A rate needs two positive whole numbers, not ${num}/${den}.`);
  const divisor = commonDivisor(num, den);
  const made = rate(num / divisor, den / divisor, dropFrame);
  if (dropFrame && !canDropFrames(made)) throw new RangeError(`There is no drop-frame counting at ${made.num}/${made.den}.`);
  return made;
}

/**
 * Reads a rate as people write it: `24000/1001`, `23.976`, `23.98`, `29.97df`, `59.94 ndf`, `25`.
 * A decimal within 0.005 of a rate with denominator 1001 is taken to be that rate.
 * Returns null when it is no rate.
 */
export function parseRate(text: string): Rate | null {
  const match = /^\s*(\d+(?:\.\d+)?)(?:\s*\/\s*(\d+))?\s*(?:fps)?\s*(df|ndf|drop|non-?drop)?\s*$/i.exec(text);
  if (!match) return null;
  const [, first = '', den, counting = ''] = match;
  const drop = /^(df|drop)$/i.test(counting);
  const made = den === undefined ? rateFromDecimal(Number(first)) : fraction(Number(first), Number(den));
  if (!made || (drop && !canDropFrames(made))) return null;
  return { ...made, dropFrame: drop };
}

function fraction(num: number, den: number): Rate | null {
  return Number.isInteger(num) && num > 0 && den > 0 ? rateOf(num, den) : null;
}

/**
 * The exact rate a measured or rounded decimal stands for: 23.98 and 23.976 are 24000/1001.
 * Returns null below a thousandth of a frame a second, or above 1000.
 */
export function rateFromDecimal(fps: number): Rate | null {
  if (!(fps >= 0.001 && fps <= 1000)) return null;
  if (Number.isInteger(fps)) return rate(fps);
  const whole = Math.round(fps);
  if (whole > 0 && Math.abs((whole * 1000) / 1001 - fps) < 0.005) return rateOf(whole * 1000, 1001);
  return rateOf(Math.round(fps * 1000), 1000);
}

/** The rate as people say it: `23.976`, `29.97 DF`, `25`. */
export function formatRate(r: Rate): string {
  const fps = r.num / r.den;
  const digits = Number.isInteger(fps) ? String(fps) : fps.toFixed(3).replace(/(\.\d\d)0$/, '$1');
  return r.dropFrame ? `${digits} DF` : digits;
}
