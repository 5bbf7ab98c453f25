import { type Decision, settle, settledFor } from '../decisions';
import { type Cdl, type EditList, type ListEvent, pictureTracks, recordSpan, type Transition } from '../edit';
import type { Original } from '../originals';
import { contains, type FrameRange, type Frames, lengthOf, type Rate } from '../time';
import { headFrames, sourceOffset, sourceSpan, tailFrames } from './timemap';

/** One event as it will be shown: what it is made from, and how. */
export interface Shot {
  readonly event: ListEvent;
  /** Null when nothing is paired, when the pair is not here, or for exempt events. */
  readonly original: Original | null;
  readonly exempt: boolean;
  /** Frame of the original, from 0, that stands for the event's source in; slips included. */
  readonly sourceStart: Frames;
  readonly slip: Frames;
  readonly cdl: Cdl | null;
  /** Record frames past record out that it is still seen, under the next transition. */
  readonly tail: Frames;
}

/** One picture layer; shots in record order. */
export interface Layer {
  readonly name: string;
  readonly shots: readonly Shot[];
}

/** The cut, rebuilt from originals. Layers go from the bottom up. */
export interface Conform {
  readonly rate: Rate;
  readonly span: FrameRange;
  readonly layers: readonly Layer[];
}

/** Computes the conform. Never edits the list; the same input gives the same output. */
export function compile(list: EditList, originals: readonly Original[], decisions: readonly Decision[]): Conform {
  const settled = settle(decisions);
  // There may be many more originals than the cut uses.
  const wanted = new Set([...settled.values()].map((s) => s.pair?.original));
  const byPath = new Map<string, Original>();
  for (const o of originals) if (wanted.has(o.path)) byPath.set(o.path, o);
  const layers = pictureTracks(list).map(
    (track): Layer => ({
      name: track.name,
      shots: track.events.map((event, index): Shot => {
        const s = settledFor(settled, event.id);
        return {
          event,
          original: (s.pair && byPath.get(s.pair.original)) ?? null,
          exempt: !event.enabled || (s.exempt ?? event.kind !== 'clip'),
          sourceStart: (s.pair?.sourceStartFrame ?? 0) + s.slip,
          slip: s.slip,
          cdl: s.grade === undefined ? event.cdl : s.grade,
          tail: tailFrames(track, index),
        };
      }),
    }),
  );
  return { rate: list.rate, span: recordSpan(list), layers };
}

/** The frame of a shot's original shown at a record frame; may lie outside the file. A still shows frame 0. */
export function sourceFrameAt(shot: Shot, record: Frames): Frames {
  if (shot.original?.kind === 'still') return 0;
  return shot.sourceStart + sourceOffset(shot.event.retime, shot.event.source, record - shot.event.record.in);
}

/** One shot's part in the picture at a frame. `share` is its opacity over what lies below, 0..1. */
export interface Part {
  readonly shot: Shot;
  readonly sourceFrame: Frames;
  readonly share: number;
  /** The transition it comes in with while that runs, else null. */
  readonly join: Transition | null;
}

/**
 * What stands at record frame n, from the bottom up; empty means black. Layers hidden by a full one
 * above are left out. Titles and generators have no picture of their own and let through what is
 * below.
 */
export function pictureAt(conform: Conform, record: Frames): Part[] {
  const parts: Part[] = [];
  for (const layer of conform.layers) {
    const here = partsOfLayer(layer, record);
    if (here.some((p) => p.share === 1)) parts.length = 0;
    parts.push(...here);
  }
  return parts;
}

function partsOfLayer(layer: Layer, record: Frames): Part[] {
  const index = findShot(layer.shots, record);
  const shot = layer.shots[index];
  const next = layer.shots[index < 0 ? firstAfter(layer.shots, record) : index + 1];
  const early = next?.event.transitionIn;
  // A transition that is centred on the cut begins while the event before it still stands.
  if (next && early && early.before > 0 && record >= next.event.record.in - early.before && record < next.event.record.in)
    return mixed(shot ?? null, next, early, record);
  if (!shot || letsThrough(shot)) return [];
  const join = shot.event.transitionIn;
  if (!join || record - shot.event.record.in + join.before >= join.duration) return [partOf(shot, record, 1, null)];
  const previous = layer.shots[index - 1];
  const stillSeen = previous && previous.event.record.out + previous.tail > record ? previous : null;
  return mixed(stillSeen, shot, join, record);
}

/** Titles, generators and what was switched off have no picture of their own. */
const letsThrough = (shot: Shot): boolean => shot.exempt && shot.event.kind !== 'black' && !shot.original;

/** Both sides of a transition. The share grows from nearly nothing on its first frame to nearly all on its last. */
function mixed(leaving: Shot | null, incoming: Shot, join: Transition, record: Frames): Part[] {
  const into = record - incoming.event.record.in + join.before;
  const parts: Part[] = [];
  if (leaving && join.from === 'previous' && !letsThrough(leaving)) parts.push(partOf(leaving, record, 1, null));
  if (!letsThrough(incoming)) parts.push(partOf(incoming, record, (into + 1) / (join.duration + 1), join));
  return parts;
}

const partOf = (shot: Shot, record: Frames, share: number, join: Transition | null): Part => ({
  shot,
  sourceFrame: sourceFrameAt(shot, record),
  share,
  join,
});

/** Index of the first shot that begins after the frame, by halving; the number of shots when none does. */
function firstAfter(shots: readonly Shot[], record: Frames): number {
  let low = 0;
  let high = shots.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((shots[middle] as Shot).event.record.in <= record) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Index of the last shot that begins at or before the frame and still runs there; -1 if none. */
function findShot(shots: readonly Shot[], record: Frames): number {
  const index = firstAfter(shots, record) - 1;
  const found = shots[index];
  return found && contains(found.event.record, record) ? index : -1;
}

/** Record frames at which a shot stands alone in the picture: no transition runs and no layer hides it. */
export function framesAlone(conform: Conform, shot: Shot): Frames[] {
  const frames: Frames[] = [];
  for (let n = shot.event.record.in; n < shot.event.record.out; n++) {
    const parts = pictureAt(conform, n);
    if (parts.length === 1 && parts[0]?.shot === shot && parts[0].share === 1) frames.push(n);
  }
  return frames;
}

/** The shot of an event id, or null. */
export function shotOf(conform: Conform, eventId: string): Shot | null {
  for (const layer of conform.layers) for (const shot of layer.shots) if (shot.event.id === eventId) return shot;
  return null;
}

/** Frames a shot needs of its original with handles, clipped to what the original has. A still gives any number. */
export function neededFrames(shot: Shot, handles: Frames): { wanted: FrameRange; given: FrameRange } | null {
  if (!shot.original) return null;
  if (shot.original.kind === 'still') {
    const all = { in: 0, out: headFrames(shot.event) + lengthOf(shot.event.record) + shot.tail + 2 * handles };
    return { wanted: all, given: all };
  }
  const seen = sourceSpan(shot.event, shot.tail);
  const wanted = { in: shot.sourceStart + seen.in - handles, out: shot.sourceStart + seen.out + handles };
  const given = { in: Math.max(0, wanted.in), out: Math.min(shot.original.frames, wanted.out) };
  return { wanted, given: lengthOf(given) > 0 ? given : { in: 0, out: 0 } };
}
