/**
 * An exact fraction in lowest terms: `num` is whole, `den` whole and above 0. Speeds and ratios of rates are
 * fractions, so that nothing is rounded on the way and no error adds up.
 */
export interface Fraction {
  readonly num: number;
  readonly den: number;
}

export const ZERO: Fraction = { num: 0, den: 1 };
export const ONE: Fraction = { num: 1, den: 1 };

const common = (a: bigint, b: bigint): bigint => (b === 0n ? a : common(b, a % b));

/**
 * A fraction from two whole numbers of any size. Where its lowest terms pass 2^53, which no time of a cut does, it is the
 * nearest that can be held; above 2^53 the largest.
 */
function reduced(num: bigint, den: bigint): Fraction {
  const sign = den < 0n ? -1n : 1n;
  const divisor = common(num < 0n ? -num : num, den < 0n ? -den : den) || 1n;
  let [n, d] = [(sign * num) / divisor, (sign * den) / divisor];
  while ((n > LARGEST || n < -LARGEST || d > LARGEST) && d > 1n) [n, d] = [n / 2n, d / 2n];
  const held = n > LARGEST ? LARGEST : n < -LARGEST ? -LARGEST : n;
  return { num: Number(held), den: Number(d) };
}

/** The largest whole number that divides both, above 0; the other where one is 0. Both are whole, and below 2^53. */
export function commonDivisor(one: number, other: number): number {
  let [a, b] = [Math.abs(one), Math.abs(other)];
  while (b !== 0) [a, b] = [b, a % b];
  return a;
}

/** The same of two numbers that are exact as they are, which nearly all are. */
function lowest(num: number, den: number): Fraction {
  if (den === 1) return { num, den };
  const shared = commonDivisor(num, den);
  const divisor = den < 0 ? -shared : shared;
  // Adding 0 makes of -0 a 0.
  return { num: num / divisor + 0, den: den / divisor };
}

const isExact = (n: number): boolean => n <= Number.MAX_SAFE_INTEGER && n >= -Number.MAX_SAFE_INTEGER;

const LARGEST = BigInt(Number.MAX_SAFE_INTEGER);

/** `num`/`den` in lowest terms. Throws RangeError when a part is no whole number or `den` is 0. */
export function fraction(num: number, den = 1): Fraction {
  if (!Number.isSafeInteger(num) || !Number.isSafeInteger(den) || den === 0)
    throw new RangeError(`A fraction needs two whole numbers, the second not 0, and not ${num}/${den}.`);
  return lowest(num, den);
}

/** Largest denominator that a decimal is taken for. */
const FINEST = 1_000_000;

/**
 * The fraction a decimal stands for: the simplest one that differs from it by less than a billionth of it
 * (0.333333333333 is 1/3, 1.998 is 999/500), found by continued fractions; denominators go to a million. Beyond 2^53 it
 * is the largest that can be held.
 */
export function fractionOf(decimal: number): Fraction {
  if (!Number.isFinite(decimal)) throw new RangeError(`${decimal} is no number a fraction can stand for.`);
  const sign = decimal < 0 ? -1 : 1;
  const wanted = Math.abs(decimal);
  let [before, num, beforeDen, den] = [1, Math.floor(wanted), 0, 1];
  if (num > Number.MAX_SAFE_INTEGER) return { num: sign * Number.MAX_SAFE_INTEGER, den: 1 };
  let rest = wanted - num;
  while (rest > 0 && Math.abs(num / den - wanted) > wanted * 1e-9) {
    const turned = 1 / rest;
    const whole = Math.floor(turned);
    if (whole * den + beforeDen > FINEST || whole * num + before > Number.MAX_SAFE_INTEGER) break;
    [before, num, beforeDen, den] = [num, whole * num + before, den, whole * den + beforeDen];
    rest = turned - whole;
  }
  return fraction(sign * num, den);
}

export function times(a: Fraction, b: Fraction): Fraction {
  const [num, den] = [a.num * b.num, a.den * b.den];
  return isExact(num) && isExact(den) ? lowest(num, den) : reduced(BigInt(a.num) * BigInt(b.num), BigInt(a.den) * BigInt(b.den));
}
export function over(a: Fraction, b: Fraction): Fraction {
  const [num, den] = [a.num * b.den, a.den * b.num];
  return isExact(num) && isExact(den) && den !== 0
    ? lowest(num, den)
    : reduced(BigInt(a.num) * BigInt(b.den), BigInt(a.den) * BigInt(b.num));
}
export function plus(a: Fraction, b: Fraction): Fraction {
  const [left, right, den] = [a.num * b.den, b.num * a.den, a.den * b.den];
  return isExact(left) && isExact(right) && isExact(left + right) && isExact(den)
    ? lowest(left + right, den)
    : reduced(BigInt(a.num) * BigInt(b.den) + BigInt(b.num) * BigInt(a.den), BigInt(a.den) * BigInt(b.den));
}
export const minus = (a: Fraction, b: Fraction): Fraction => plus(a, { num: -b.num, den: b.den });
export const magnitude = (a: Fraction): Fraction => (a.num < 0 ? { num: -a.num, den: a.den } : a);
export const equal = (a: Fraction, b: Fraction): boolean => a.num === b.num && a.den === b.den;
export const decimalOf = (a: Fraction): number => a.num / a.den;
export const floorOf = (a: Fraction): number => floorDivide(a.num, a.den);
export const ceilOf = (a: Fraction): number => -floorDivide(-a.num, a.den);

/** The whole part of `num`/`den`, downwards, exact while both stay below 2^53; `den` is above 0. */
export function floorDivide(num: number, den: number): number {
  const quotient = Math.floor(num / den);
  const rest = num - quotient * den;
  if (rest < 0) return quotient - 1;
  return rest >= den ? quotient + 1 : quotient;
}
