import { nominal, type Rate } from '@gemello/core/time';

/** Steps of a ruler, in seconds; below a second, in frames. */
const SECONDS = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600];
const FRAMES = [1, 2, 5, 10];

/** The frames of a span that stand at round times, at most about `most` of them. */
export function roundTimes(from: number, to: number, rate: Rate, most: number): number[] {
  const second = nominal(rate);
  const steps = [...FRAMES.filter((n) => n < second), ...SECONDS.map((n) => n * second)];
  const step = steps.find((n) => (to - from) / n <= most) ?? Math.ceil((to - from) / most);
  const first = Math.ceil(from / step) * step;
  return Array.from({ length: Math.max(0, Math.ceil((to - first) / step)) }, (_, i) => first + i * step);
}

const inWords = (ms: number, how: Intl.DateTimeFormatOptions): string => new Date(ms).toLocaleString('en-GB', how);

const DAY = { day: 'numeric', month: 'short' } as const;
const TIME = { hour: '2-digit', minute: '2-digit' } as const;

/** When somebody did something, as it is said beside what they did: `27 Nov, 23:41`. `ms`: since 1970. */
export const dayAndTime = (ms: number): string => inWords(ms, { ...DAY, ...TIME });
/** The day of a moment: `27 Nov 2026`. `ms`: since 1970. */
export const day = (ms: number): string => inWords(ms, { ...DAY, year: 'numeric' });
/** A moment of any year: `27 Nov 2026, 23:41`. `ms`: since 1970. */
export const moment = (ms: number): string => inWords(ms, { ...DAY, ...TIME, year: 'numeric' });
