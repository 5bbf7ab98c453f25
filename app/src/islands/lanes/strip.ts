import type { Frames } from '@gemello/core/time';
import type { Sight } from './sight';

/** A picture along an event: of which record frame, and where its left edge is, in pixels. */
export interface Along {
  readonly record: Frames;
  readonly x: number;
  readonly place: 'first' | 'last' | number;
}

/**
 * Which pictures stand along an event that reaches from `left` to `right`, each `wide`, all in pixels. Between the first and the last
 * they are twos to some power of frames apart, so that the same ones serve while it is zoomed.
 */
export function picturesAlong(
  record: { readonly in: Frames; readonly out: Frames },
  { perFrame }: Pick<Sight, 'perFrame'>,
  left: number,
  right: number,
  wide: number,
): Along[] {
  const first: Along = { record: record.in, x: left, place: 'first' };
  if (right - left < 2 * wide) return [first];
  const apart = 2 ** Math.max(0, Math.ceil(Math.log2(wide / perFrame)));
  const between: Along[] = [];
  for (let n = apart; left + n * perFrame + wide <= right - wide; n += apart)
    between.push({ record: record.in + n, x: left + n * perFrame, place: n });
  return [first, ...between, { record: record.out - 1, x: right - wide, place: 'last' }];
}
