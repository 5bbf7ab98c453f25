import { decimalOf, type Fraction, type FrameRange, type Frames, type Rate, ZERO } from '../time';

/** Width and height in pixels. */
export interface Raster {
  readonly width: number;
  readonly height: number;
}

/** How the frames of a cut or a clip are made; null where nothing says it. */
export interface Framing {
  readonly raster: Raster | null;
  /** Width of a pixel over its height: 1 is square. */
  readonly pixelAspect: number | null;
  readonly fields: 'progressive' | 'upper-first' | 'lower-first' | null;
}

/** How much a notice weighs. Most are `kept`: the fact has no place in the model but is not gone. */
export type Severity = 'kept' | 'changed' | 'lost' | 'unreadable';

/** All of them, the gravest first. */
export const SEVERITIES: readonly Severity[] = ['unreadable', 'lost', 'changed', 'kept'];

/** A place in a delivered file, as its format has them: a line from 1, a byte from 0, a path in a tree. */
export type Place = { readonly line: number } | { readonly offset: number } | { readonly path: string };

/** The place of a line from 1; null where there is none to name. */
export const atLine = (line: number | null): Place | null => (line === null ? null : { line });

/** One thing the reading of a list has to say, in plain words, with its place. */
export interface Notice {
  readonly severity: Severity;
  /** A short name for the kind of thing, stable for tests and filters: `unknown-comment`. */
  readonly code: string;
  /** Where in the file; null when it concerns the file as a whole. */
  readonly place: Place | null;
  /** Which file of a set it speaks of, from 0; absent when the list came in one. */
  readonly part?: number;
  /** The event's key, or null when it belongs to none. */
  readonly event: string | null;
  readonly message: string;
  /** What the message says, by name: numbers, names, rates. */
  readonly fields: Readonly<Record<string, unknown>>;
}

/** ASC CDL 1.2 numbers: slope and power 0 or above, saturation 0 or above, offset any. R, G, B order. */
export interface Cdl {
  readonly slope: readonly [number, number, number];
  readonly offset: readonly [number, number, number];
  readonly power: readonly [number, number, number];
  readonly saturation: number;
}

/**
 * One point of a keyed speed: `record` frames after the event's record in, the source stands
 * `source` frames after the event's source in (a fraction where it falls between two frames).
 */
export interface SpeedKey {
  readonly record: number;
  readonly source: number;
}

/**
 * How an event's source runs under its record span.
 * `speed` is a factor: 2 is twice as fast, -1 is reverse at natural speed, never 0 (that is a freeze).
 * `keys` are at least two, in record order; between them the source runs evenly, outside them as
 * between the two nearest.
 */
export type Retime =
  | { readonly kind: 'natural' }
  | { readonly kind: 'constant'; readonly speed: Fraction }
  | { readonly kind: 'freeze' }
  | { readonly kind: 'keyed'; readonly keys: readonly SpeedKey[] };

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
  /** How a wipe is drawn where that is not plain: forwards, with a hard edge and no border. */
  readonly look?: WipeLook;
}

/** What a wipe may be besides its pattern. `softness` and `border` are shares of the frame's width, 0..1. */
export interface WipeLook {
  /** True when the pattern runs the other way: what grows, shrinks. */
  readonly reverse: boolean;
  readonly softness: number;
  readonly border: { readonly width: number; readonly colour: readonly [number, number, number] } | null;
}

/** How a picture of another shape is laid into the frame: all of it inside, filled by cropping, stretched, pixel for pixel. */
export const FITS = ['inside', 'fill', 'stretch', 'one-to-one'] as const;
export type Fit = (typeof FITS)[number];

/**
 * Where a picture sits at one moment: scale 1 is the size that the fit rule gives it, x and y are shares of the
 * frame's width and height from the middle, right and down positive, rotation is in degrees, clockwise. Crop takes
 * shares of the picture away from its edges, 0..1; opacity is 0..1.
 */
export interface Pose {
  readonly scaleX: number;
  readonly scaleY: number;
  readonly x: number;
  readonly y: number;
  readonly rotation: number;
  readonly crop: { readonly left: number; readonly right: number; readonly top: number; readonly bottom: number };
  readonly opacity: number;
}

/** A pose at a moment: `record` counts frames from the event's record in. */
export interface PoseKey extends Pose {
  readonly record: number;
}

/**
 * Where the picture sits while an event lasts. With `keys` (in record order) it moves evenly from one to the next and
 * stands still outside them; its own pose is then the first of them.
 */
export interface Placement extends Pose {
  readonly flipX: boolean;
  readonly flipY: boolean;
  /** Null: as the cut has it. */
  readonly fit: Fit | null;
  readonly keys: readonly PoseKey[];
}

/** The whole picture, as the fit rule lays it. */
export const FILLING: Placement = {
  scaleX: 1,
  scaleY: 1,
  x: 0,
  y: 0,
  rotation: 0,
  crop: { left: 0, right: 0, top: 0, bottom: 0 },
  opacity: 1,
  flipX: false,
  flipY: false,
  fit: null,
  keys: [],
};

/**
 * How an original of another rate than the cut's runs in it. `usual`: in real time, but frame for frame where the two
 * count the same whole number of frames a second (24 and 23.976, 30 and 29.97; common practice).
 */
export const RATE_MODES = ['usual', 'real-time', 'frame-for-frame'] as const;
export type RateMode = (typeof RATE_MODES)[number];

/** A note pinned to one frame of the record. */
export interface Marker {
  readonly record: Frames;
  readonly colour: string | null;
  readonly text: string;
}

/** What a list states of the file that an event is of: its first frame, counted as the source is, how many it has, and its raster; null where it does not say. */
export interface FileExtent {
  readonly first: Frames;
  readonly frames: Frames | null;
  readonly raster: Raster | null;
}

/** `clip` has camera media; the others are exempt from matching. */
export type EventKind = 'clip' | 'black' | 'bars' | 'generator' | 'title';

/** Opaque JSON of the format a list came in; only a writer of the same format looks into it. */
export type Metadata = { readonly [name: string]: unknown };

/**
 * One use of a piece of source in the cut. All source frames count from 00:00:00:00 at `sourceRate`. Source in and out
 * stand at the record offsets `anchor` (null: at record in and out, as lists deliver them; a trim moves them), and the
 * source begins `phase` of a frame further on in the direction it runs (0 up to 1).
 */
export interface ListEvent {
  /** Who it is, unique in its list: made of what it is, so that it stays the same wherever it stands (identity.ts). */
  readonly key: string;
  /** As written in the list, leading zeros and all; empty when the list gives none. */
  readonly number: string;
  readonly kind: EventKind;
  readonly reel: string;
  readonly clipName: string;
  readonly fileName: string;
  /** Where the offline clip lay, as written: a path or an address; empty when the list does not say. */
  readonly mediaPath: string;
  readonly file: FileExtent | null;
  readonly sourceRate: Rate;
  readonly source: FrameRange;
  /** Source in and out as the list writes them, before any counting; part of who the event is. */
  readonly sourceLabels: string;
  readonly anchor: FrameRange | null;
  readonly phase: Fraction;
  readonly record: FrameRange;
  readonly retime: Retime;
  readonly rateMode: RateMode;
  readonly transitionIn: Transition | null;
  readonly placement: Placement | null;
  readonly cdl: Cdl | null;
  readonly markers: readonly Marker[];
  /** Comment lines that have no place in the model, as written, without the leading asterisk. */
  readonly notes: readonly string[];
  /** False when the editor switched it off; it is then not in the picture and needs no original. */
  readonly enabled: boolean;
  /** Keys of the events that the editor holds together with this one, as picture and its sound. */
  readonly linked: readonly string[];
  /** What the format carries that has no place in the model, untouched; null when nothing. */
  readonly metadata: Metadata | null;
  /** Line in the file where the event stands, from 1; null when it was not read from lines. */
  readonly line: number | null;
}

/** One layer of picture or one channel of sound. Events are in record order. */
export interface Track {
  readonly name: string;
  readonly kind: 'picture' | 'sound';
  /** Which file of a set it came in, from 0; absent when the list came in one. */
  readonly part?: number;
  /** What its format says of the track that has no place in the model; only a writer of that format looks into it. */
  readonly metadata?: Metadata;
  readonly events: readonly ListEvent[];
}

/** One of the cuts that a file holds. */
export interface SequenceName {
  readonly name: string;
  readonly durationFrames: Frames;
  readonly events: number;
}

/** A cut as a list delivered it. Tracks go from the bottom layer up. It is never edited. */
export interface EditList {
  readonly format: string;
  readonly title: string;
  readonly rate: Rate;
  /** The record frame the cut begins at, where the list states it; an empty stretch may stand before its first event. */
  readonly start: Frames | null;
  readonly framing: Framing | null;
  /** The cuts the file holds where there are several; empty when it holds this one only. */
  readonly sequences: readonly SequenceName[];
  readonly tracks: readonly Track[];
  readonly notes: readonly string[];
  readonly metadata: Metadata | null;
  readonly notices: readonly Notice[];
}

export const NATURAL: Retime = { kind: 'natural' };

/** What is said of an event; the rest is as it is where a list says nothing. */
export type EventFields = Pick<ListEvent, 'key' | 'sourceRate' | 'source' | 'record'> & Partial<ListEvent>;

/** An event of which all is settled. Every field is written out, in one order: readers make tens of thousands of them. */
export function newEvent(given: EventFields, key: string = given.key): ListEvent {
  return {
    key,
    number: given.number ?? '',
    kind: given.kind ?? 'clip',
    reel: given.reel ?? '',
    clipName: given.clipName ?? '',
    fileName: given.fileName ?? '',
    mediaPath: given.mediaPath ?? '',
    file: given.file ?? null,
    sourceRate: given.sourceRate,
    source: given.source,
    sourceLabels: given.sourceLabels ?? '',
    anchor: given.anchor ?? null,
    phase: given.phase ?? ZERO,
    record: given.record,
    retime: given.retime ?? NATURAL,
    rateMode: given.rateMode ?? 'usual',
    transitionIn: given.transitionIn ?? null,
    placement: given.placement ?? null,
    cdl: given.cdl ?? null,
    markers: given.markers ?? NONE,
    notes: given.notes ?? NONE,
    enabled: given.enabled ?? true,
    linked: given.linked ?? NONE,
    metadata: given.metadata ?? null,
    line: given.line ?? null,
  };
}

const NONE: readonly never[] = [];

/** An empty list: what a reader starts from. */
export const EMPTY_LIST: Omit<EditList, 'format' | 'rate'> = {
  title: '',
  start: null,
  framing: null,
  sequences: [],
  tracks: [],
  notes: [],
  metadata: null,
  notices: [],
};

/** No clip runs faster than this many times its speed, or slower than one of as many. */
const FASTEST = 10_000;

/** True for a factor that can be the speed of a clip; 0 is a freeze. */
export const canBeSpeed = (factor: number): boolean => factor === 0 || (Math.abs(factor) <= FASTEST && Math.abs(factor) >= 1 / FASTEST);

/** The speed factor of a retime, for showing: 1 for natural, 0 for a freeze, the mean over its keys for a keyed one. */
export function speedOf(retime: Retime): number {
  switch (retime.kind) {
    case 'natural':
      return 1;
    case 'freeze':
      return 0;
    case 'constant':
      return decimalOf(retime.speed);
    case 'keyed': {
      const [first, last] = [retime.keys[0], retime.keys.at(-1)];
      return first && last && last.record > first.record ? (last.source - first.source) / (last.record - first.record) : 1;
    }
  }
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

/** The record frame a cut begins at: as its list states it, where no event stands before that; else its first event's. */
export function startOf(list: EditList): Frames {
  const first = recordSpan(list).in;
  return list.start === null ? first : Math.min(list.start, first);
}

/** Picture tracks from the bottom layer up. */
export const pictureTracks = (list: EditList): Track[] => list.tracks.filter((t) => t.kind === 'picture');

/** Every event of every picture track, bottom layer first. */
export const pictureEvents = (list: EditList): ListEvent[] => pictureTracks(list).flatMap((t) => t.events);
