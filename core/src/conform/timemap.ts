import { betweenKeys, type ListEvent, type Retime, type Track } from '../edit';
import { type FrameRange, type Frames, lengthOf, range } from '../time';

/** Keeps 2 x 0.1 x 10 from falling a frame short. Far below one frame at any speed in use. */
const GUARD = 1e-6;

/**
 * The one time map. Gives the source frame that stands at record frame `offset` of an event, as a
 * distance from the event's source in. `offset` counts from the event's record in and may lie past
 * its record out (a dissolve's tail) or below 0 (a head handle).
 *
 * Natural: one for one. Constant: the whole part of offset x speed. Reverse: starts on the last
 * frame of the source span and runs down. Freeze: always the first frame. Keyed: evenly between the
 * keys. (Common practice for edit lists: the source span names the frames used, whichever way they
 * run.)
 */
export function sourceOffset(retime: Retime, source: FrameRange, offset: Frames): Frames {
  if (retime.kind === 'natural') return offset;
  if (retime.kind === 'freeze') return 0;
  if (retime.kind === 'keyed') return Math.floor(betweenKeys(retime.keys, offset) + GUARD);
  const travelled = Math.floor(offset * Math.abs(retime.speed) + GUARD);
  return retime.speed > 0 ? travelled : lengthOf(source) - 1 - travelled;
}

/**
 * The source frames an event shows, as distances from its source in, out exclusive.
 * `tail` is the number of record frames it goes on past its record out, under the next event's
 * transition; `head` the number it is seen before its record in, under its own.
 */
export function sourceSpan(event: ListEvent, tail: Frames = 0, head: Frames = headFrames(event)): FrameRange {
  const last = Math.max(0, lengthOf(event.record) + tail - 1);
  const seen = [-head, last, ...turns(event.retime).filter((n) => n > -head && n < last)].map((n) =>
    sourceOffset(event.retime, event.source, n),
  );
  return range(Math.min(...seen), Math.max(...seen) + 1);
}

/** Record offsets where a keyed speed may turn round: the frames on either side of its keys. */
const turns = (retime: Retime): Frames[] =>
  retime.kind === 'keyed' ? retime.keys.flatMap((k) => [Math.floor(k.record), Math.ceil(k.record)]) : [];

/** How many frames ahead of its record in an event is seen, because its transition begins before the cut. */
export const headFrames = (event: ListEvent): Frames => event.transitionIn?.before ?? 0;

/**
 * How many frames past its record out an event is still seen, because the next event on its track
 * begins with a transition out of it. 0 when nothing follows at once or it leaves black behind.
 */
export function tailFrames(track: Track, index: number): Frames {
  const event = track.events[index];
  const next = track.events[index + 1];
  const join = next?.transitionIn;
  if (!event || !next || !join || join.from !== 'previous' || next.record.in !== event.record.out) return 0;
  return Math.max(0, join.duration - join.before);
}
