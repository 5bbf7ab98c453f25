import {
  atLine,
  type Cdl,
  type EventKind,
  type Framing,
  type ListEvent,
  type Marker,
  type Notice,
  newEvent,
  type Severity,
} from '../../edit';
import type { FrameRange, Rate } from '../../time';
import type { Sentence } from '../../words';
import { type NoticeLog, tell } from '../notices';
import type { EventLine } from './grammar';

type Writable<T> = { -readonly [K in keyof T]: T[K] };

/** What comments may say of one side of a transition. */
export interface Side {
  clipName: string;
  fileName: string;
  mediaPath: string;
  cdl: Cdl | null;
}

export const unsaid = (): Side => ({ clipName: '', fileName: '', mediaPath: '', cdl: null });

/** An event while its lines come in. */
export interface Draft extends Writable<Omit<ListEvent, 'notes' | 'markers'>> {
  lines: EventLine;
  notes: string[];
  markers: Marker[];
  channels: string[];
  /** True when it does not stand in the cut: its comments are its own all the same. */
  leftOut: boolean;
  /** The event whose picture its transition leaves; null for none. */
  from: Draft | null;
  /** Source in of the line that names what its transition leaves. */
  fromSource: string | null;
  /** What its comments say of that side. */
  fromSide: Side;
  /** Which side of its transition the comments now speak of. */
  side: 'from' | 'to';
  /** True once a comment named the incoming clip as such. */
  namesIncoming: boolean;
  /** True once a comment told that it is a title. */
  saysTitle: boolean;
  /** True once a comment told what kind it is. */
  kindSaid: boolean;
  /** True where its source out stands before its source in. */
  backwards: boolean;
  /** The line of the M2 that gave its speed; null for none. */
  motionAt: number | null;
  /** Frames of source by which that speed may be off, since it is rounded. */
  roundedBy: number;
  /** Its comments as written, for when it is left out. */
  said: string[];
}

/** What is said of the other side of a cut: nothing, ever. */
const NO_SIDE: Side = Object.freeze(unsaid());

/** An event of which only its line is known. Its fields are set one by one: copying them by spreading takes many times as long. */
export function newDraft(lines: EventLine, at: number, kind: EventKind, sourceRate: Rate, source: FrameRange, record: FrameRange): Draft {
  const { number, reel, sourceIn, sourceOut } = lines;
  const sourceLabels = `${sourceIn} ${sourceOut}`;
  const draft = newEvent({ key: '', number, kind, reel, sourceLabels, line: at, sourceRate, source, record }) as Draft;
  draft.lines = lines;
  draft.markers = [];
  draft.notes = [];
  draft.channels = [...lines.channels];
  draft.leftOut = false;
  draft.from = null;
  draft.fromSource = null;
  draft.fromSide = NO_SIDE;
  draft.side = 'to';
  draft.namesIncoming = false;
  draft.saysTitle = false;
  draft.kindSaid = false;
  draft.backwards = false;
  draft.motionAt = null;
  draft.roundedBy = 0;
  draft.said = [];
  return draft;
}

export interface DraftNotice extends Omit<Notice, 'event'> {
  readonly draft: Draft | null;
}

/** Everything the single pass over the lines carries along. */
export interface Reading {
  readonly rate: Rate;
  readonly framing: Framing | null;
  /** The record spans of the event lines, in their order. */
  readonly records: Iterator<FrameRange>;
  /** True in a list whose comments stand before the events they speak of. */
  readonly namesFirst: boolean;
  /** Comments that wait for the event they speak of. */
  waiting: { text: string; at: number }[];
  title: string;
  sourceDrop: boolean;
  readonly drafts: Draft[];
  readonly leftOut: Draft[];
  notes: string[];
  readonly log: NoticeLog<DraftNotice>;
  /** How many lines were met that say nothing to us. */
  unknown: number;
  /** The event that comments and M2 lines now speak of. */
  current: Draft | null;
  /** The first line of a two-line transition, which has no length, until its second line comes. */
  outgoing: Draft | null;
  /** Reels that comments say were shortened, by what stands in the list. */
  readonly longReels: Map<string, string>;
}

export function say(r: Reading, severity: Severity, code: string, line: number | null, said: Sentence, draft: Draft | null = null): void {
  tell(r.log, { severity, code, place: atLine(line), ...said, draft });
}

/** How an event is named in a message. */
export const named = (line: Pick<EventLine, 'number'>): string => `Event ${line.number || '(no number)'}`;

export const excerpt = (text: string): string => (text.trim().length > 80 ? `${text.trim().slice(0, 77)}…` : text.trim());

/** A line that has no place in the model stays as a note of the event it belongs to, or of the list. */
export function keepNote(r: Reading, text: string): void {
  const draft = r.current;
  if (draft?.leftOut) return;
  (draft ? draft.notes : r.notes).push(text);
}
