import type { FrameRange, Frames, Rate } from '../time';

/** How much a notice weighs. Most are `kept`: the fact has no place in the model but is not gone. */
export type Severity = 'kept' | 'changed' | 'lost' | 'unreadable';

/** One thing the reading of a list has to say, in plain words, with its place. */
export interface Notice {
  readonly severity: Severity;
  /** A short name for the kind of thing, stable for tests and filters: `unknown-comment`. */
  readonly code: string;
  /** Line in the file, counted from 1; null when it concerns the file as a whole. */
  readonly line: number | null;
  /** The event's id, or null when it belongs to none. */
  readonly event: string | null;
  readonly message: string;
}

/** ASC CDL 1.2 numbers: slope and power 0 or above, saturation 0 or above, offset any. R, G, B order. */
export interface Cdl {
  readonly slope: readonly [number, number, number];
  readonly offset: readonly [number, number, number];
  readonly power: readonly [number, number, number];
  readonly saturation: number;
}

/**
 * How an event's source runs under its record span.
 * `speed` is a factor: 2 is twice as fast, -1 is reverse at natural speed, never 0 (that is a freeze).
 */
export type Retime = { readonly kind: 'natural' } | { readonly kind: 'constant'; readonly speed: number } | { readonly kind: 'freeze' };

/**
 * What joins an event to what stands before it on its track. It begins `before` frames ahead of the
 * event's record in (0 in edit lists, where the incoming event starts with its transition) and
 * lasts `duration` frames. `from` says what is left behind.
 */
export interface Transition {
  readonly type: 'dissolve' | 'wipe' | 'key';
  readonly duration: Frames;
  readonly before: Frames;
  readonly from: 'previous' | 'black';
  /** The pattern number of a wipe, as written; null for other kinds. */
  readonly wipeCode: string | null;
}

/** Where the picture sits in the frame; scale 1 fills it, x and y are shares of its width and height. */
export interface Placement {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
  readonly rotation: number;
}

/** A note pinned to one frame of the record. */
export interface Marker {
  readonly record: Frames;
  readonly colour: string | null;
  readonly text: string;
}

/** `clip` has camera media; the others are exempt from matching. */
export type EventKind = 'clip' | 'black' | 'bars' | 'generator' | 'title';

/** Opaque JSON of the format a list came in; only a writer of the same format looks into it. */
export type Metadata = { readonly [name: string]: unknown };

/** One use of a piece of source in the cut. All source frames count from 00:00:00:00 at `sourceRate`. */
export interface ListEvent {
  /** Unique in its list: the track's name and the position on it, `V1/7`. */
  readonly id: string;
  /** As written in the list, leading zeros and all; empty when the list gives none. */
  readonly number: string;
  readonly kind: EventKind;
  readonly reel: string;
  readonly clipName: string;
  readonly fileName: string;
  readonly sourceRate: Rate;
  readonly source: FrameRange;
  readonly record: FrameRange;
  readonly retime: Retime;
  readonly transitionIn: Transition | null;
  readonly placement: Placement | null;
  readonly cdl: Cdl | null;
  readonly markers: readonly Marker[];
  /** Comment lines that have no place in the model, as written, without the leading asterisk. */
  readonly notes: readonly string[];
  /** False when the editor switched it off; it is then not in the picture and needs no original. */
  readonly enabled: boolean;
  /** What the format carries that has no place in the model, untouched; null when nothing. */
  readonly metadata: Metadata | null;
  /** Line in the file where the event stands, from 1; null when it was not read from lines. */
  readonly line: number | null;
}

/** One layer of picture or one channel of sound. Events are in record order. */
export interface Track {
  readonly name: string;
  readonly kind: 'picture' | 'sound';
  readonly events: readonly ListEvent[];
}

/** A cut as a list delivered it. Tracks go from the bottom layer up. It is never edited. */
export interface EditList {
  readonly format: string;
  readonly title: string;
  readonly rate: Rate;
  readonly tracks: readonly Track[];
  readonly notes: readonly string[];
  readonly metadata: Metadata | null;
  readonly notices: readonly Notice[];
}

export const NATURAL: Retime = { kind: 'natural' };

/** What an event has where its list says nothing. */
export const PLAIN_EVENT = {
  number: '',
  kind: 'clip',
  reel: '',
  clipName: '',
  fileName: '',
  retime: NATURAL,
  transitionIn: null,
  placement: null,
  cdl: null,
  markers: [],
  notes: [],
  enabled: true,
  metadata: null,
  line: null,
} as const satisfies Omit<ListEvent, 'id' | 'sourceRate' | 'source' | 'record'>;

/** The speed factor of a retime: 1 for natural, 0 for a freeze. */
export function speedOf(retime: Retime): number {
  if (retime.kind === 'natural') return 1;
  return retime.kind === 'freeze' ? 0 : retime.speed;
}

/** The record span of the whole list; 0..0 when it has no events. */
export function recordSpan(list: EditList): FrameRange {
  let start = Number.POSITIVE_INFINITY;
  let end = Number.NEGATIVE_INFINITY;
  for (const track of list.tracks)
    for (const event of track.events) {
      start = Math.min(start, event.record.in);
      end = Math.max(end, event.record.out);
    }
  return start <= end ? { in: start, out: end } : { in: 0, out: 0 };
}

/** Picture tracks from the bottom layer up. */
export const pictureTracks = (list: EditList): Track[] => list.tracks.filter((t) => t.kind === 'picture');

/** Every event of every picture track, bottom layer first. */
export const pictureEvents = (list: EditList): ListEvent[] => pictureTracks(list).flatMap((t) => t.events);

/** The track an event stands on, read from its id. */
export const trackOf = (eventId: string): string => eventId.slice(0, eventId.lastIndexOf('/'));
