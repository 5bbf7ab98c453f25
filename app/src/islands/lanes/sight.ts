import type { Frames } from '@gemello/core/time';

/** What of the cut is seen: the record frame at the left edge, and pixels to a frame. */
export interface Sight {
  readonly from: number;
  readonly perFrame: number;
}

/** Heights in pixels. */
export const RULER = 20;
export const SOUND = 26;
export const NAMES = 16;
const [LOWEST, HIGHEST] = [30, 84] as const;
export const BETWEEN = 3;
/** Most pixels to a frame. */
const NEAREST = 60;

export const xOf = ({ from, perFrame }: Sight, frame: Frames): number => (frame - from) * perFrame;
export const frameAtX = ({ from, perFrame }: Sight, x: number): number => from + x / perFrame;

/** Height of a lane where so many share a height; more than fit are scrolled. */
export const laneHeight = (height: number, lanes: number, sound: boolean): number =>
  Math.max(LOWEST, Math.min(HIGHEST, Math.floor((height - RULER - (sound ? SOUND : 0)) / Math.max(1, lanes)) - BETWEEN));

export const laneTop = (lane: number, each: number, scrolled: number): number => RULER + lane * (each + BETWEEN) - scrolled;

type Span = { readonly in: Frames; readonly out: Frames };

/** The whole of a span, with a little room on both sides. */
export function fitted({ in: from, out }: Span, width: number): Sight {
  const perFrame = Math.min(NEAREST, Math.max(1, width - 24) / Math.max(1, out - from));
  return { from: from - 12 / perFrame, perFrame };
}

/** Nearer or further by a factor, with the frame under `x` staying there; no further than the whole cut. */
export function zoomed(sight: Sight, by: number, x: number, span: Span, width: number): Sight {
  const furthest = fitted(span, width).perFrame;
  const perFrame = Math.max(furthest, Math.min(NEAREST, sight.perFrame * by));
  return held({ from: frameAtX(sight, x) - x / perFrame, perFrame }, span, width);
}

/** Moved aside by pixels, as far as the cut goes. */
export const panned = (sight: Sight, by: number, span: Span, width: number): Sight =>
  held({ ...sight, from: sight.from + by / sight.perFrame }, span, width);

/** Kept so that some of the cut is seen. */
function held({ from, perFrame }: Sight, span: Span, width: number): Sight {
  const room = 12 / perFrame;
  const last = Math.max(span.in - room, span.out + room - width / perFrame);
  return { perFrame, from: Math.max(span.in - room, Math.min(last, from)) };
}

/** Moved so that a frame is seen, where it is not. */
export function revealing(sight: Sight, frame: Frames, span: Span, width: number): Sight {
  const x = xOf(sight, frame);
  if (x >= 0 && x <= width) return sight;
  return held({ ...sight, from: frame - width / 2 / sight.perFrame }, span, width);
}
