import {
  atLine,
  type EditList,
  EMPTY_LIST,
  type EventKind,
  type Framing,
  type ListEvent,
  type Marker,
  NATURAL,
  type Notice,
  newEvent,
  type Retime,
  type Severity,
  type Track,
  type Transition,
} from '../../edit';
import {
  canDropFrames,
  formatRate,
  fraction,
  fractionOf,
  framesPerDay,
  framesPerSecond,
  lengthOf,
  nominal,
  over,
  RATES,
  type Rate,
  readTimecode,
} from '../../time';
import type { ListOptions } from '../options';
import { beyondName, fileNameOfUrl } from '../paths';
import { readComment, withGrade } from './comments';
import { type EventLine, type Line, readLine } from './grammar';

type Writable<T> = { -readonly [K in keyof T]: T[K] };
interface Draft extends Writable<Omit<ListEvent, 'notes' | 'markers'>> {
  notes: string[];
  markers: Marker[];
  channels: string[];
}
interface DraftNotice extends Omit<Notice, 'event'> {
  draft: Draft | null;
}

/** Everything the single pass over the lines carries along. */
interface Reading {
  readonly rate: Rate;
  readonly framing: Framing | null;
  title: string;
  sourceDrop: boolean;
  drafts: Draft[];
  notes: string[];
  notices: DraftNotice[];
  /** The event that comments and M2 lines now speak of. */
  current: Draft | null;
  /** The zero-length first line of a two-line transition, until its second line comes. */
  outgoing: { line: EventLine; at: number } | null;
  /** Which side of a transition the last clip name spoke of. */
  side: 'from' | 'to';
  outgoingClip: string;
  /** Reels that comments say were shortened, by what stands in the list. */
  readonly longReels: Map<string, string>;
}

/**
 * Reads a CMX 3600 style edit list in one pass. Never throws on content: broken lines become
 * notices with their line number and the reading goes on. Record out points are exclusive; sources
 * count from 00:00:00:00. Source: SMPTE ST 258 lineage; comment lines by common practice.
 */
export function readEdl(text: string, options: ListOptions = {}): EditList {
  const lines = text.split(/\r\n|\r|\n/).map(readLine);
  const rate = options.rate ?? inferRate(lines);
  const reading: Reading = {
    rate: withCounting(rate, lines),
    framing: options.raster ? { raster: options.raster, pixelAspect: null, fields: null } : null,
    title: '',
    sourceDrop: rate.dropFrame,
    drafts: [],
    notes: [],
    notices: [],
    current: null,
    outgoing: null,
    side: 'to',
    outgoingClip: '',
    longReels: new Map(),
  };
  if (!options.rate)
    notice(
      reading,
      'changed',
      'rate-assumed',
      null,
      `The list does not state its frame rate; ${formatRate(reading.rate)} was assumed from its timecodes. Set the rate if that is wrong: every number depends on it.`,
    );

  lines.forEach((line, index) => {
    take(reading, line, index + 1);
  });
  closeOutgoing(reading);
  for (const draft of reading.drafts) finish(reading, draft);
  return assemble(reading);
}

/** The lowest usual rate whose labels could hold every frame digit in the list. */
function inferRate(lines: readonly Line[]): Rate {
  let highest = 0;
  let drop = false;
  for (const line of lines) {
    if (line.kind === 'fcm') drop ||= line.dropFrame;
    if (line.kind !== 'event') continue;
    for (const tc of [line.sourceIn, line.sourceOut, line.recordIn, line.recordOut])
      highest = Math.max(highest, Number(tc.slice(tc.search(/\d+$/))));
  }
  if (drop) return highest >= 30 ? RATES['59.94df'] : RATES['29.97df'];
  if (highest < 24) return RATES['24'];
  if (highest < 25) return RATES['25'];
  if (highest < 30) return RATES['30'];
  return highest < 50 ? RATES['50'] : RATES['60'];
}

/** The first FCM line settles how record timecode is counted, where the rate allows drop-frame. */
function withCounting(rate: Rate, lines: readonly Line[]): Rate {
  const fcm = lines.find((l) => l.kind === 'fcm');
  return fcm && canDropFrames(rate) ? { ...rate, dropFrame: fcm.dropFrame } : rate;
}

function notice(r: Reading, severity: Severity, code: string, line: number | null, message: string, draft: Draft | null = null): void {
  r.notices.push({ severity, code, place: atLine(line), message, draft });
}

function take(r: Reading, line: Line, at: number): void {
  switch (line.kind) {
    case 'empty':
      return;
    case 'title':
      r.title = line.text;
      return;
    case 'fcm':
      if (line.dropFrame && !canDropFrames(r.rate))
        notice(
          r,
          'changed',
          'drop-frame-impossible',
          at,
          `The list asks for drop-frame, which does not exist at ${formatRate(r.rate)}; counted as non-drop.`,
        );
      r.sourceDrop = line.dropFrame && canDropFrames(r.rate);
      return;
    case 'event':
      takeEvent(r, line, at);
      return;
    case 'motion':
      takeMotion(r, line, at);
      return;
    case 'extra-audio':
      if (r.current) r.current.channels = [...new Set([...r.current.channels, ...line.channels])];
      return;
    case 'comment':
      takeComment(r, line.text, at);
      return;
    case 'broken':
      notice(
        r,
        'unreadable',
        'broken-line',
        at,
        `This line looks like an event but could not be read: "${excerpt(line.text)}". The rest of the list was read without it.`,
      );
      return;
    case 'unknown':
      notice(r, 'kept', 'unknown-line', at, `A line Gemello does not know was kept as a note: "${excerpt(line.text)}".`, r.current);
      keepNote(r, line.text);
  }
}

const excerpt = (text: string) => (text.trim().length > 80 ? `${text.trim().slice(0, 77)}…` : text.trim());

function keepNote(r: Reading, text: string): void {
  (r.current ? r.current.notes : r.notes).push(text);
}

function takeEvent(r: Reading, line: EventLine, at: number): void {
  const zeroLength = line.recordIn === line.recordOut;
  if (zeroLength && line.join === 'cut') {
    closeOutgoing(r);
    r.outgoing = { line, at };
    return;
  }
  const draft = draftOf(r, line, at);
  const outgoing = r.outgoing;
  r.outgoing = null;
  if (!draft) return;
  if (line.join !== 'cut') draft.transitionIn = transitionOf(line, outgoing?.line ?? null);
  r.drafts.push(draft);
  r.current = draft;
  r.side = line.join === 'cut' ? 'to' : 'from';
  r.outgoingClip = '';
}

/** A zero-length cut that no transition followed stands for nothing and is let go, with a word. */
function closeOutgoing(r: Reading): void {
  if (!r.outgoing) return;
  notice(
    r,
    'lost',
    'zero-length',
    r.outgoing.at,
    `Event ${r.outgoing.line.number || '(no number)'} has no length and begins no transition; it was left out.`,
  );
  r.outgoing = null;
}

function transitionOf(line: EventLine, outgoing: EventLine | null): Transition {
  return {
    type: line.join === 'cut' ? 'dissolve' : line.join,
    duration: line.duration,
    before: 0,
    from: outgoing && isBlack(outgoing.reel) ? 'black' : 'previous',
    wipeCode: line.wipeCode,
  };
}

const isBlack = (reel: string) => /^(BL|BLK|BLACK)$/i.test(reel);

function kindOf(reel: string): EventKind {
  if (isBlack(reel)) return 'black';
  return /^(BARS?|TONE)$/i.test(reel) ? 'bars' : 'clip';
}

/** A source across midnight may be this many times as long as its record, which leaves room for speeds. */
const MIDNIGHT = 8;

function draftOf(r: Reading, line: EventLine, at: number): Draft | null {
  const sourceRate = { ...r.rate, dropFrame: r.sourceDrop };
  const read = (text: string, rate: Rate) => readTimecode(text, rate) ?? { frames: 0, impossible: null };
  const source = [read(line.sourceIn, sourceRate), read(line.sourceOut, sourceRate)] as const;
  const record = [read(line.recordIn, r.rate), read(line.recordOut, r.rate)] as const;
  const name = `Event ${line.number || '(no number)'}`;
  if (record[1].frames <= record[0].frames) {
    notice(
      r,
      'unreadable',
      'record-backwards',
      at,
      `${name} ends on the record before it begins (${line.recordIn} to ${line.recordOut}); it was left out. Ask for the list again or correct the line.`,
    );
    return null;
  }
  const draft: Draft = {
    ...newEvent({
      key: '',
      number: line.number,
      kind: kindOf(line.reel),
      reel: line.reel,
      sourceRate,
      source: { in: source[0].frames, out: source[1].frames },
      sourceLabels: `${line.sourceIn} ${line.sourceOut}`,
      record: { in: record[0].frames, out: record[1].frames },
      line: at,
    }),
    markers: [],
    notes: [],
    channels: [...line.channels],
  };
  for (const { impossible } of [...source, ...record])
    if (impossible) {
      notice(
        r,
        'changed',
        `timecode-${impossible}`,
        at,
        `${name} has a timecode that cannot exist at ${formatRate(r.rate)}${impossible === 'dropped-label' ? ' (drop-frame skips it)' : ''}; is the rate right? It was counted on.`,
        draft,
      );
      break;
    }
  if (draft.channels.length === 0) notice(r, 'lost', 'no-channel', at, `${name} is on no channel; it was left out.`);
  const acrossMidnight = { in: draft.source.in, out: draft.source.out + framesPerDay(sourceRate) };
  // A card that runs over midnight: as long as its record, when it goes on after 24:00:00:00.
  if (draft.source.out < draft.source.in && lengthOf(acrossMidnight) <= MIDNIGHT * lengthOf(draft.record)) draft.source = acrossMidnight;
  if (draft.source.out < draft.source.in) {
    draft.source = { in: source[1].frames, out: source[0].frames };
    draft.retime = REVERSE;
    notice(
      r,
      'changed',
      'source-backwards',
      at,
      `${name} has its source out before its source in; it was read as running in reverse.`,
      draft,
    );
  }
  return draft;
}

/**
 * M2 gives frames per second of source at the record's pace; 0 is a freeze, below 0 is reverse.
 * The factor is taken against the nominal rate, and the exact decimal (23.976) counts as natural.
 */
function takeMotion(r: Reading, line: Extract<Line, { kind: 'motion' }>, at: number): void {
  const target = motionTarget(r, line);
  if (!target) {
    notice(r, 'lost', 'motion-without-event', at, `A speed (M2) for reel ${line.reel} stands with no event of that reel; it was left out.`);
    return;
  }
  target.retime = retimeOf(line.framesPerSecond, target.sourceRate);
}

const REVERSE: Retime = { kind: 'constant', speed: fraction(-1) };

function retimeOf(fps: number, rate: Rate): Retime {
  if (fps === 0) return { kind: 'freeze' };
  const magnitude = Math.abs(fps);
  const natural = Math.abs(magnitude - framesPerSecond(rate)) < 0.006 || magnitude === nominal(rate);
  if (natural && fps > 0) return NATURAL;
  return natural ? REVERSE : { kind: 'constant', speed: over(fractionOf(fps), fraction(nominal(rate))) };
}

/**
 * The event just read, or its outgoing neighbour when only that has the reel the M2 line names. Some
 * systems write the clip's name there; then the source in that the line repeats says whose it is.
 */
function motionTarget(r: Reading, { reel, timecode }: Extract<Line, { kind: 'motion' }>): Draft | null {
  const same = (a: string, b: string) => a.trim().toUpperCase() === b.trim().toUpperCase();
  if (!r.current) return null;
  if (reel === '' || same(r.current.reel, reel)) return r.current;
  const previous = r.drafts.at(-2);
  if (r.current.transitionIn && previous && same(previous.reel, reel)) return previous;
  return readTimecode(timecode, r.current.sourceRate)?.frames === r.current.source.in ? r.current : null;
}

function takeComment(r: Reading, text: string, at: number): void {
  const draft = r.current;
  const comment = readComment(text);
  if (comment?.kind === 'reel-replaced') {
    r.longReels.set(comment.written.toUpperCase(), comment.name);
    return;
  }
  if (!draft || !comment) {
    if (text.trim() !== '') keepNote(r, text.trimEnd());
    if (draft && text.trim() !== '') notice(r, 'kept', 'comment', at, `A comment was kept as a note: "${excerpt(text)}".`, draft);
    return;
  }
  const joined = draft.transitionIn !== null;
  switch (comment.kind) {
    case 'from-clip':
      r.side = 'from';
      if (joined) r.outgoingClip = comment.name;
      else draft.clipName = comment.name;
      return;
    case 'to-clip':
      r.side = 'to';
      draft.clipName = comment.name;
      return;
    case 'source-file':
      if (!joined || r.side === 'to' || r.outgoingClip === '') {
        draft.fileName = fileNameOfUrl(comment.name);
        draft.mediaPath = beyondName(comment.name, draft.fileName);
      }
      return;
    case 'reel':
      draft.reel = comment.name;
      return;
    case 'effect':
      takeEffect(r, draft, comment.name, at);
      return;
    case 'sop':
      draft.cdl = withGrade(draft.cdl, comment.sop);
      return;
    case 'saturation':
      draft.cdl = withGrade(draft.cdl, { saturation: comment.saturation });
      return;
    case 'marker': {
      const record = readTimecode(comment.timecode, r.rate)?.frames ?? draft.record.in;
      draft.markers.push({ record, colour: comment.colour, text: comment.text });
    }
  }
}

/** Names of effects that say no more than the event line does. */
const ORDINARY = /dissolve|wipe|fade|\bcut\b/i;

function takeEffect(r: Reading, draft: Draft, name: string, at: number): void {
  keepNote(r, `EFFECT NAME: ${name}`);
  if (draft.transitionIn && !ORDINARY.test(name))
    notice(r, 'changed', 'transition-kind', at, `The transition "${name}" is shown as a ${draft.transitionIn.type}.`, draft);
  else if (!draft.transitionIn)
    notice(r, 'lost', 'effect', at, `The effect "${name}" has no place in a conform; its name is kept as a note.`, draft);
}

const TITLE_NOTE = /^(?:TITLE|GENERATOR|TEXT)\b.*:/i;
const TITLE_NAME = /^(?:title|text|caption|subtitle|credits?)\b/i;

/** What can only be said once an event has all its lines. */
function finish(r: Reading, draft: Draft): void {
  draft.reel = r.longReels.get(draft.reel.toUpperCase()) ?? draft.reel;
  const name = `Event ${draft.number || '(no number)'}`;
  const unnamedSource = /^AX$/i.test(draft.reel);
  if (draft.kind === 'clip' && (draft.notes.some((n) => TITLE_NOTE.test(n)) || (unnamedSource && TITLE_NAME.test(draft.clipName)))) {
    draft.kind = 'title';
    notice(r, 'kept', 'title', draft.line, `${name} is a title ("${draft.clipName}"); it has no camera original and needs none.`, draft);
  }
  const source = draft.source.out - draft.source.in;
  const record = draft.record.out - draft.record.in;
  if (draft.kind === 'clip' && draft.retime.kind === 'natural' && source !== record)
    notice(
      r,
      'changed',
      'length-differs',
      draft.line,
      `${name} takes ${source} frames of source for ${record} frames of record and states no speed; ${record} frames from its source in are used.`,
      draft,
    );
  const join = draft.transitionIn;
  if (join && join.duration > record) {
    notice(
      r,
      'changed',
      'transition-too-long',
      draft.line,
      `${name} begins with a transition of ${join.duration} frames but lasts only ${record}; the transition was cut to that.`,
      draft,
    );
    draft.transitionIn = { ...join, duration: record };
  }
}

function assemble(r: Reading): EditList {
  const byTrack = new Map<string, Draft[]>();
  for (const draft of r.drafts)
    for (const channel of draft.channels) {
      const events = byTrack.get(channel) ?? [];
      events.push(draft);
      byTrack.set(channel, events);
    }
  const places = new Map<Draft, string>();
  const tracks = [...byTrack].sort(([a], [b]) => trackOrder(a) - trackOrder(b)).map(([name, drafts]) => trackFrom(name, drafts, places));
  return {
    ...EMPTY_LIST,
    framing: r.framing,
    format: 'edl',
    title: r.title,
    rate: r.rate,
    tracks,
    notes: r.notes,
    notices: r.notices.map(({ draft, ...rest }) => ({ ...rest, event: draft ? (places.get(draft) ?? null) : null })),
  };
}

const trackOrder = (name: string) => (name[0] === 'V' ? 0 : 1000) + Number(name.slice(1));

function trackFrom(name: string, drafts: Draft[], places: Map<Draft, string>): Track {
  const inOrder = [...drafts].sort((a, b) => a.record.in - b.record.in);
  const events = inOrder.map((draft, index) => {
    const place = `${name}/${index + 1}`;
    if (!places.has(draft)) places.set(draft, place);
    return newEvent(draft, place);
  });
  return { name, kind: name.startsWith('V') ? 'picture' : 'sound', events };
}
