import type { Cdl } from '@gemello/core';
import { formatNumber, NEUTRAL_CDL } from '@gemello/core/grade';

/** A CDL as ten numbers: slope, offset and power of red, green and blue, then saturation. */
export const textOfCdl = ({ slope, offset, power, saturation }: Cdl): string =>
  [...[slope, offset, power].map((three) => three.map(formatNumber).join(' ')), formatNumber(saturation)].join('  ');

/** The CDL in what was typed: ten numbers, or nine without the saturation, parted by anything that is no number; slope and saturation not below 0, power above. */
export function cdlOf(text: string): Cdl | 'unreadable' {
  const numbers = text.match(/[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?/gi)?.map(Number) ?? [];
  if (numbers.length !== 10 && numbers.length !== 9) return 'unreadable';
  const three = (from: number) => numbers.slice(from, from + 3) as unknown as Cdl['slope'];
  const cdl = { slope: three(0), offset: three(3), power: three(6), saturation: numbers[9] ?? NEUTRAL_CDL.saturation };
  const allowed = cdl.slope.every((n) => n >= 0) && cdl.power.every((n) => n > 0) && cdl.saturation >= 0;
  return allowed ? cdl : 'unreadable';
}
