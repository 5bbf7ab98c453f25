import { type EditList, EMPTY_LIST, type EventKind, type Notice, newEvent, speedOf, type Track } from '../../edit';
import {
  canDropFrames,
  decimalOf,
  type FrameRange,
  formatRate,
  formatTimeOfDay,
  framesPerDay,
  isDropLabel,
  lengthOf,
  type Rate,
  range,
  readTimecode,
} from '../../time';
import { recordsInOrder, sourceBetween } from '../midnight';
import { allTold, noticeLog } from '../notices';
import type { ListOptions } from '../options';
import { seemsMade } from './comments';
import { countingOf, NO_LABELS, withLabelsOf } from './counting';
import { type Draft, excerpt, keepNote, named, newDraft, type Reading, say, unsaid } from './draft';
import { type EventLine, linesOf, type PlacedLine } from './grammar';
import { REVERSE, takeMotion } from './motion';
import { NO_NAMES, namesComeFirst, settleSides, takeComment, withNamesOf } from './remarks';
import { EDL_WORDS } from './wording';

/**
 * Reads a CMX 3600 style edit list. Never throws on content: broken lines become notices with their line number and the
 * reading goes on. Record out points are exclusive; sources count from 00:00:00:00. A comment belongs to the event line
 * above it, whether that could be read or not. Source: SMPTE ST 258 lineage; comment lines by common practice.
 */
export function readEdl(text: string, options: ListOptions = {}): EditList {
  let labels = NO_LABELS;
  let names = NO_NAMES;
  const records: Pick<EventLine, 'recordIn' | 'recordOut'>[] = [];
  const lines = [...linesOf(text)];
  for (const placed of lines) {
    const { line } = placed;
    if (line.kind === 'event') records.push({ recordIn: line.recordIn, recordOut: line.recordOut });
    labels = withLabelsOf(labels, placed);
    names = withNamesOf(names, line);
  }
  const counting = countingOf(labels, options.rate);
  const { rate } = counting;
  const r: Reading = {
    rate,
    framing: options.raster ? { raster: options.raster, pixelAspect: null, fields: null } : null,
    records: recordSpans(records, rate).values(),
    namesFirst: namesComeFirst(names),
    waiting: [],
    title: '',
    sourceDrop: rate.dropFrame,
    drafts: [],
    leftOut: [],
    notes: [],
    log: noticeLog(),
    unknown: 0,
    current: null,
    outgoing: null,
    longReels: new Map(),
  };
  for (const { code, at, said } of counting.notices) say(r, 'changed', code, at, said);
  if (r.namesFirst) say(r, 'kept', 'names-first', null, EDL_WORDS.namesFirst());
  for (const line of lines) take(r, line);
  closeOutgoing(r);
  // Of comments that stand first, those after the last event speak of none.
  r.current = null;
  takeWaiting(r);
  const letGo = r.unknown - MOST_UNKNOWN;
  if (letGo > 0) say(r, 'lost', 'unknown-lines', null, EDL_WORDS.unknownLinesLeftOut({ count: letGo }));
  for (const draft of r.drafts) settleSides(r, draft);
  for (const draft of r.drafts) finish(r, draft);
  for (const draft of r.leftOut) r.notes.push(...draft.said.map((text) => `${named(draft)}, left out: ${text}`));
  return assemble(r);
}

/** Lines that say nothing to us are kept up to this number; of the rest only the count is. */
const MOST_UNKNOWN = 10_000;

/** The record spans of all event lines; where labels begin anew at midnight, what follows counts on. */
function recordSpans(lines: readonly Pick<EventLine, 'recordIn' | 'recordOut'>[], rate: Rate): readonly FrameRange[] {
  const frames = (label: string) => readTimecode(label, rate)?.frames ?? 0;
  return recordsInOrder(
    lines.map((l) => range(frames(l.recordIn), frames(l.recordOut))),
    rate,
  );
}

function take(r: Reading, { line, at }: PlacedLine): void {
  switch (line.kind) {
    case 'title':
      r.title = line.text;
      return;
    case 'fcm':
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
      if (r.namesFirst) r.waiting.push({ text: line.text, at });
      else takeComment(r, line.text, at);
      return;
    case 'broken':
      takeBroken(r, line.text, at);
      return;
    case 'unknown':
      if (++r.unknown > MOST_UNKNOWN) return;
      say(r, 'kept', 'unknown-line', at, EDL_WORDS.unknownLine({ text: excerpt(line.text) }), r.current);
      if (r.current?.leftOut) r.current.said.push(line.text);
      keepNote(r, line.text);
  }
}

/** The comments of a broken event line are that event's, and never those of the one before it. */
function takeBroken(r: Reading, text: string, at: number): void {
  say(r, 'unreadable', 'broken-line', at, EDL_WORDS.brokenLine({ text: excerpt(text) }));
  if (/^M2\b/i.test(text)) return;
  closeOutgoing(r);
  leaveOut(r, newDraft({ ...NO_LINE, number: /^\d+/.exec(text)?.[0] ?? '' }, at, 'clip', r.rate, NOWHERE, NOWHERE));
  takeWaiting(r);
}

const NO_LINE: EventLine = {
  kind: 'event',
  number: '',
  reel: '',
  channels: [],
  join: 'cut',
  wipeCode: null,
  duration: 0,
  lengthless: false,
  sourceIn: '',
  sourceOut: '',
  recordIn: '',
  recordOut: '',
};
const NOWHERE = range(0, 0);

function leaveOut(r: Reading, draft: Draft): void {
  draft.leftOut = true;
  r.leftOut.push(draft);
  r.current = draft;
}

function takeEvent(r: Reading, line: EventLine, at: number): void {
  const record = r.records.next().value ?? range(0, 0);
  const outgoing = r.outgoing;
  r.outgoing = null;
  if (lengthOf(record) === 0 && line.join === 'cut') {
    closeOutgoing(r, outgoing);
    r.outgoing = draftOf(r, line, at, record);
    r.outgoing.leftOut = true;
    r.current = r.outgoing;
    takeWaiting(r);
    return;
  }
  const draft = draftOf(r, line, at, record);
  if (draft.leftOut) {
    leaveOut(r, draft);
    // The first line of an event that is left out goes with it.
    if (outgoing?.number === draft.number) r.leftOut.push(outgoing);
    else closeOutgoing(r, outgoing);
    takeWaiting(r);
    return;
  }
  if (line.join !== 'cut') join(r, draft, outgoing);
  // Of a transition without a length both lines are one cut.
  else if (outgoing && (!line.lengthless || outgoing.number !== draft.number)) closeOutgoing(r, outgoing);
  if (line.lengthless) say(r, 'changed', 'transition-without-length', at, EDL_WORDS.transitionWithoutLength({ event: named(line) }), draft);
  r.drafts.push(draft);
  r.current = draft;
  draft.side = line.join === 'cut' ? 'to' : 'from';
  takeWaiting(r);
}

function takeWaiting(r: Reading): void {
  for (const { text, at } of r.waiting) takeComment(r, text, at);
  r.waiting = [];
}

/** A first line of no length that no transition followed stands for nothing and is let go, with a word. */
function closeOutgoing(r: Reading, outgoing: Draft | null = r.outgoing): void {
  r.outgoing = null;
  if (!outgoing) return;
  r.leftOut.push(outgoing);
  say(r, 'lost', 'zero-length', outgoing.line, EDL_WORDS.neitherLengthNorTransition({ event: named(outgoing) }));
}

/** Events further back than this are not what a transition leaves. */
const FURTHEST_BACK = 64;

function join(r: Reading, draft: Draft, outgoing: Draft | null): void {
  const { lines } = draft;
  draft.transitionIn = {
    type: lines.join === 'cut' ? 'dissolve' : lines.join,
    duration: lines.duration,
    before: 0,
    from: outgoing && isBlack(outgoing.reel) ? 'black' : 'previous',
    wipeCode: lines.wipeCode,
  };
  draft.from =
    draft.transitionIn.from === 'black'
      ? null
      : (r.drafts
          .slice(-FURTHEST_BACK)
          .reverse()
          .find((d) => d.record.out === draft.record.in && d.channels.some((c) => draft.channels.includes(c))) ?? null);
  draft.fromSide = unsaid();
  if (!outgoing) return;
  draft.fromSource = outgoing.lines.sourceIn;
  const { clipName, fileName, mediaPath, cdl } = outgoing;
  draft.fromSide = { clipName, fileName, mediaPath, cdl };
  draft.notes.push(...outgoing.notes);
  draft.markers.push(...outgoing.markers);
  const { from } = draft;
  if (from) sayOtherPlace(r, draft, outgoing, from);
  const leaves = outgoing.lines.reel;
  if (draft.transitionIn.from === 'previous' && from && !isUnnamed(leaves) && !sameReel(from.lines.reel, leaves))
    say(
      r,
      'changed',
      'outgoing-differs',
      outgoing.line,
      EDL_WORDS.otherReelLeft({ event: named(draft), leaves, reel: from.lines.reel || '(none)' }),
      draft,
    );
}

/** The line of what a dissolve leaves begins where the shot before ends; of a shot at another speed that is not to be told. */
function sayOtherPlace(r: Reading, draft: Draft, outgoing: Draft, from: Draft): void {
  if (from.retime.kind !== 'natural' || from.kind !== 'clip' || isBlack(outgoing.lines.reel)) return;
  const stated = readTimecode(outgoing.lines.sourceIn, from.sourceRate)?.frames;
  const day = framesPerDay(from.sourceRate);
  if (stated === undefined || (stated - from.source.out) % day === 0) return;
  say(
    r,
    'changed',
    'outgoing-elsewhere',
    outgoing.line,
    EDL_WORDS.otherPlaceLeft({
      event: named(draft),
      stated: outgoing.lines.sourceIn,
      ends: formatTimeOfDay(from.source.out, from.sourceRate),
    }),
    draft,
  );
}

const isBlack = (reel: string) => /^(BL|BLK|BLACK)$/i.test(reel);
const isUnnamed = (reel: string) => reel === '' || /^AX$/i.test(reel);
const sameReel = (a: string, b: string) => isUnnamed(a) || a.trim().toUpperCase() === b.trim().toUpperCase();

function kindOf(reel: string): EventKind {
  if (isBlack(reel)) return 'black';
  return /^(BARS?|TONE)$/i.test(reel) ? 'bars' : 'clip';
}

function draftOf(r: Reading, line: EventLine, at: number, record: FrameRange): Draft {
  // A semicolon says drop-frame of its own label; a colon says nothing against what stands above.
  const drops = r.sourceDrop || (isDropLabel(line.sourceIn) && canDropFrames(r.rate));
  const sourceRate = drops === r.rate.dropFrame ? r.rate : { ...r.rate, dropFrame: drops };
  const labels = [
    readTimecode(line.sourceIn, sourceRate),
    readTimecode(line.sourceOut, sourceRate),
    readTimecode(line.recordIn, r.rate),
    readTimecode(line.recordOut, r.rate),
  ] as const;
  const { source, backwards } = sourceBetween(labels[0]?.frames ?? 0, labels[1]?.frames ?? 0, lengthOf(record), sourceRate);
  const draft = newDraft(line, at, kindOf(line.reel), sourceRate, source, record);
  const name = named(line);
  if (record.out < record.in || (record.out === record.in && line.join !== 'cut')) {
    draft.leftOut = true;
    if (record.out === record.in) say(r, 'lost', 'zero-length', at, EDL_WORDS.noLength({ name }));
    else
      say(r, 'unreadable', 'record-backwards', at, EDL_WORDS.recordBackwards({ name, recordIn: line.recordIn, recordOut: line.recordOut }));
    return draft;
  }
  const impossible = labels.find((l) => l?.impossible)?.impossible;
  if (impossible)
    say(
      r,
      'changed',
      `timecode-${impossible}`,
      at,
      EDL_WORDS.impossibleTimecode({ name, rate: formatRate(r.rate), dropped: impossible === 'dropped-label' }),
      draft,
    );
  if ([line.sourceIn, line.sourceOut].some((label) => Number.parseInt(label, 10) >= 24 && !/^24:00:00[:;]00$/.test(label)))
    say(r, 'changed', 'past-day', at, EDL_WORDS.pastDay({ name }), draft);
  if (draft.channels.length === 0) say(r, 'lost', 'no-channel', at, EDL_WORDS.noChannel({ name }));
  if (line.reel === '') say(r, 'changed', 'no-reel', at, EDL_WORDS.noReel({ name }), draft);
  draft.backwards = backwards;
  return draft;
}

/** What can only be said once an event has all its lines. */
function finish(r: Reading, draft: Draft): void {
  draft.reel = r.longReels.get(draft.reel.toUpperCase()) ?? draft.reel;
  const name = named(draft);
  if (draft.kind === 'clip' && !draft.kindSaid && (draft.saysTitle || (draft.reel !== '' && seemsMade(draft.reel, draft.clipName)))) {
    draft.kind = 'title';
    say(r, 'kept', 'title', draft.line, EDL_WORDS.title({ name, clipName: draft.clipName }), draft);
  }
  if (draft.backwards) settleBackwards(r, draft);
  const [source, record] = [lengthOf(draft.source), lengthOf(draft.record)];
  if (draft.kind === 'clip' && draft.retime.kind === 'natural' && source !== record)
    say(r, 'changed', 'length-differs', draft.line, EDL_WORDS.lengthDiffers({ name, source, record }), draft);
  if (draft.kind === 'clip' && draft.retime.kind === 'constant' && draft.motionAt !== null) {
    const asked = record * Math.abs(decimalOf(draft.retime.speed));
    // A list names all frames that it passes over: up to one more than the speed asks for, and as many as rounding may hide.
    if (Math.abs(source - asked) > 1 + draft.roundedBy)
      say(
        r,
        'changed',
        'speed-differs',
        draft.motionAt,
        EDL_WORDS.speedDiffers({
          name,
          source,
          record,
          asked: Math.round(asked),
          speed: Number((decimalOf(draft.retime.speed) * 100).toFixed(2)),
        }),
        draft,
      );
  }
  const join = draft.transitionIn;
  if (join && join.duration > record) {
    say(r, 'changed', 'transition-too-long', draft.line, EDL_WORDS.transitionTooLong({ name, duration: join.duration, record }), draft);
    draft.transitionIn = { ...join, duration: record };
  }
}

/** A source out before its in is a reverse, unless an M2 line says how the source runs. */
function settleBackwards(r: Reading, draft: Draft): void {
  if (draft.motionAt !== null && speedOf(draft.retime) <= 0) return;
  const forward = draft.motionAt !== null;
  if (!forward) draft.retime = REVERSE;
  say(r, 'changed', 'source-backwards', draft.line, EDL_WORDS.sourceBackwards({ event: named(draft), forward }), draft);
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
  const tracks = [...byTrack].sort(([a], [b]) => trackOrder(a) - trackOrder(b)).map(([name, drafts]) => trackFrom(r, name, drafts, places));
  return {
    ...EMPTY_LIST,
    framing: r.framing,
    format: 'edl',
    title: r.title,
    rate: r.rate,
    tracks,
    notes: r.notes,
    notices: allTold(r.log).map(({ draft, ...rest }): Notice => ({ ...rest, event: draft ? (places.get(draft) ?? null) : null })),
  };
}

const trackOrder = (name: string) => (name[0] === 'V' ? 0 : 1000) + Number(name.slice(1));

function trackFrom(r: Reading, name: string, drafts: Draft[], places: Map<Draft, string>): Track {
  const inOrder = [...drafts].sort((a, b) => a.record.in - b.record.in);
  const events = inOrder.map((draft, index) => {
    const place = `${name}/${index + 1}`;
    const before = inOrder[index - 1];
    if (leavesNothing(draft, before) && !places.has(draft))
      say(
        r,
        'changed',
        'transition-from-nothing',
        draft.line,
        EDL_WORDS.transitionFromNothing({ event: named(draft), type: draft.transitionIn?.type ?? 'transition' }),
        draft,
      );
    if (!places.has(draft)) places.set(draft, place);
    const join = draft.transitionIn;
    return newEvent(join && leavesNothing(draft, before) ? { ...draft, transitionIn: { ...join, from: 'black' } } : draft, place);
  });
  return { name, kind: name.startsWith('V') ? 'picture' : 'sound', events };
}

/** A transition leaves the event that ends where it begins; where none does, it comes from black. */
const leavesNothing = ({ transitionIn, record }: Draft, before: Draft | undefined): boolean =>
  transitionIn?.from === 'previous' && before?.record.out !== record.in;
