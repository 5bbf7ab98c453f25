import { formatTimecode, formatTimeOfDay, type Rate } from '../time';
import {
  type Cdl,
  type EditList,
  type Framing,
  type ListEvent,
  type Marker,
  type Notice,
  type Place,
  recordSpan,
  type SequenceName,
  speedOf,
  startOf,
} from './model';

/** The list in the shape of the command-line contract: timecodes as text at their own rate. */
export interface ListDescription {
  format: string;
  title: string;
  rate: Rate;
  startTimecode: string;
  durationFrames: number;
  tracks: { name: string; kind: string; events: EventDescription[] }[];
  /** The cuts the file holds where there are several. */
  sequences: SequenceName[];
  framing: Framing | null;
  notices: NoticeDescription[];
}

export interface NoticeDescription {
  severity: Notice['severity'];
  code: string;
  /** From 1, where the place is a line. */
  line: number | null;
  /** The place in words, as its format has it. */
  place: string | null;
  part?: number;
  /** Number of the event it speaks of, as the list has it. */
  event: string | null;
  key: string | null;
  message: string;
  fields: Readonly<Record<string, unknown>>;
}

export interface EventDescription {
  key: string;
  number: string;
  kind: string;
  reel: string;
  clipName: string;
  fileName: string;
  mediaPath: string;
  sourceIn: string;
  sourceOut: string;
  sourceRate: Rate;
  recordIn: string;
  recordOut: string;
  durationFrames: number;
  speed: number;
  freeze: boolean;
  reverse: boolean;
  /** `offsetFrames`: how far it begins before (negative) or after record in. */
  transitionIn: { type: string; durationFrames: number; offsetFrames: number; from: string; wipeCode: string | null } | null;
  placement: ListEvent['placement'];
  cdl: Cdl | null;
  markers: Marker[];
  notes: string[];
  enabled: boolean;
}

/** Describes one event; `speed` is signed, 0 for a freeze. */
export function describeEvent(event: ListEvent, rate: Rate): EventDescription {
  const speed = speedOf(event.retime);
  const join = event.transitionIn;
  return {
    key: event.key,
    number: event.number,
    kind: event.kind,
    reel: event.reel,
    clipName: event.clipName,
    fileName: event.fileName,
    mediaPath: event.mediaPath,
    sourceIn: formatTimeOfDay(event.source.in, event.sourceRate),
    sourceOut: formatTimeOfDay(event.source.out, event.sourceRate),
    sourceRate: event.sourceRate,
    recordIn: formatTimecode(event.record.in, rate),
    recordOut: formatTimecode(event.record.out, rate),
    durationFrames: event.record.out - event.record.in,
    speed,
    freeze: event.retime.kind === 'freeze',
    reverse: speed < 0,
    transitionIn: join && {
      type: join.type,
      durationFrames: join.duration,
      offsetFrames: -join.before || 0,
      from: join.from,
      wipeCode: join.wipeCode,
    },
    placement: event.placement,
    cdl: event.cdl,
    markers: [...event.markers],
    notes: [...event.notes],
    enabled: event.enabled,
  };
}

/** Describes a whole list for the command line and the screens. */
export function describeList(list: EditList): ListDescription {
  const start = startOf(list);
  return {
    format: list.format,
    title: list.title,
    rate: list.rate,
    startTimecode: formatTimecode(start, list.rate),
    durationFrames: recordSpan(list).out - start,
    tracks: list.tracks.map((t) => ({ name: t.name, kind: t.kind, events: t.events.map((e) => describeEvent(e, list.rate)) })),
    sequences: [...list.sequences],
    framing: list.framing,
    notices: describeNotices(list),
  };
}

/** A place in words: `line 12`, `byte 0x1a40`, a path in a tree. */
export function placeText(place: Place | null): string | null {
  if (!place) return null;
  if ('line' in place) return `line ${place.line}`;
  return 'offset' in place ? `byte 0x${place.offset.toString(16)}` : place.path;
}

/** The notices of a list, each with the number of the event it speaks of. */
export function describeNotices(list: EditList): NoticeDescription[] {
  const numbers = new Map(list.tracks.flatMap((t) => t.events.map((e) => [e.key, e.number] as const)));
  return list.notices.map(({ place, event, ...n }) => ({
    ...n,
    line: lineOf(place),
    place: placeText(place),
    event: event === null ? null : (numbers.get(event) ?? null),
    key: event,
  }));
}

/** The line a place names, from 1; null where it is none. */
export const lineOf = (place: Place | null): number | null => (place && 'line' in place ? place.line : null);
