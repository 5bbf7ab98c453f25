import { formatTimecode, type Rate } from '../time';
import {
  type Cdl,
  type EditList,
  type Framing,
  type ListEvent,
  type Marker,
  type Notice,
  recordSpan,
  type SequenceName,
  speedOf,
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
  notices: Notice[];
}

export interface EventDescription {
  id: string;
  number: string;
  kind: string;
  reel: string;
  clipName: string;
  fileName: string;
  sourceIn: string;
  sourceOut: string;
  sourceRate: Rate;
  recordIn: string;
  recordOut: string;
  durationFrames: number;
  speed: number;
  freeze: boolean;
  reverse: boolean;
  transitionIn: { type: string; durationFrames: number; from: string; wipeCode: string | null } | null;
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
    id: event.id,
    number: event.number,
    kind: event.kind,
    reel: event.reel,
    clipName: event.clipName,
    fileName: event.fileName,
    sourceIn: formatTimecode(event.source.in, event.sourceRate),
    sourceOut: formatTimecode(event.source.out, event.sourceRate),
    sourceRate: event.sourceRate,
    recordIn: formatTimecode(event.record.in, rate),
    recordOut: formatTimecode(event.record.out, rate),
    durationFrames: event.record.out - event.record.in,
    speed,
    freeze: event.retime.kind === 'freeze',
    reverse: speed < 0,
    transitionIn: join && { type: join.type, durationFrames: join.duration, from: join.from, wipeCode: join.wipeCode },
    placement: event.placement,
    cdl: event.cdl,
    markers: [...event.markers],
    notes: [...event.notes],
    enabled: event.enabled,
  };
}

/** Describes a whole list for the command line and the screens. */
export function describeList(list: EditList): ListDescription {
  const span = recordSpan(list);
  return {
    format: list.format,
    title: list.title,
    rate: list.rate,
    startTimecode: formatTimecode(span.in, list.rate),
    durationFrames: span.out - span.in,
    tracks: list.tracks.map((t) => ({ name: t.name, kind: t.kind, events: t.events.map((e) => describeEvent(e, list.rate)) })),
    sequences: [...list.sequences],
    framing: list.framing,
    notices: [...list.notices],
  };
}
