import type { EventKind } from '../../edit';
import { framesPerDay, readTimecode } from '../../time';
import { beyondName, fileNameOfUrl } from '../paths';
import { type Comment, readComment, saysTitle, withGrade } from './comments';
import { type Draft, excerpt, keepNote, named, type Reading, type Side, say } from './draft';
import type { Line } from './grammar';
import { EDL_WORDS } from './wording';

const NAMES: readonly Comment['kind'][] = ['from-clip', 'to-clip', 'source-file', 'from-file', 'to-file'];

/** Where names stood so far: whether one waits for its event, and whether each event had one before it. */
export interface NamesSeen {
  readonly waiting: boolean;
  readonly consistent: boolean;
  readonly events: number;
  /** True between the two lines of a transition. */
  readonly outgoing: boolean;
}

export const NO_NAMES: NamesSeen = { waiting: false, consistent: true, events: 0, outgoing: false };

export function withNamesOf(seen: NamesSeen, line: Line): NamesSeen {
  if (line.kind === 'comment')
    return seen.waiting || !seen.consistent || !NAMES.includes(readComment(line.text)?.kind ?? 'effect')
      ? seen
      : { ...seen, waiting: true };
  if (line.kind !== 'event') return seen;
  const first = line.recordIn === line.recordOut;
  if (seen.outgoing && !first) return { ...seen, outgoing: false };
  return { waiting: false, consistent: seen.consistent && seen.waiting, events: seen.events + 1, outgoing: first };
}

/**
 * True in a list whose names stand before the events they speak of: there is one before the first event, one between any
 * two, and none after the last. Everywhere else a comment belongs to the event line above it (common practice).
 */
export const namesComeFirst = ({ waiting, consistent, events }: NamesSeen): boolean => events > 0 && consistent && !waiting;

/** Takes a comment for the event line above it. */
export function takeComment(r: Reading, text: string, at: number): void {
  const draft = r.current;
  const comment = readComment(text);
  if (comment?.kind === 'reel-replaced') {
    r.longReels.set(comment.written.toUpperCase(), comment.name);
    return;
  }
  if (text.trim() === '') return;
  if (draft?.leftOut) draft.said.push(text.trim());
  if (comment?.kind === 'note') {
    if (comment.text !== '') keepNote(r, comment.text);
    return;
  }
  if (!draft || !comment) {
    keepNote(r, text.trimEnd());
    if (draft && saysTitle(text.trim())) draft.saysTitle = true;
    if (draft && !draft.leftOut) say(r, 'kept', 'comment', at, EDL_WORDS.comment({ text: excerpt(text) }), draft);
    return;
  }
  take(r, draft, comment, at);
}

function take(r: Reading, draft: Draft, comment: Exclude<Comment, { kind: 'reel-replaced' | 'note' }>, at: number): void {
  const joined = draft.transitionIn !== null;
  // A side is spoken of from its clip's name on.
  const spokenOf: Side = joined && draft.side === 'from' && draft.fromSide.clipName !== '' ? draft.fromSide : draft;
  switch (comment.kind) {
    case 'from-clip':
      takeFromName(r, draft, comment.name, at);
      return;
    case 'to-clip':
      draft.side = 'to';
      draft.namesIncoming = true;
      // On a cut both names are of the one event: what comes in is what is seen.
      if (!joined) keepOtherName(r, draft, comment.name, draft.clipName, at);
      draft.clipName = comment.name;
      return;
    case 'source-file':
      takeFile(spokenOf, comment.name);
      return;
    case 'from-file':
      takeFile(joined ? draft.fromSide : draft, comment.name);
      return;
    case 'to-file':
      draft.namesIncoming = true;
      takeFile(draft, comment.name);
      return;
    case 'reel':
      draft.reel = comment.name;
      return;
    case 'made':
      draft.kind = MADE_KINDS.find((k) => k === comment.what) ?? draft.kind;
      draft.kindSaid = true;
      return;
    case 'effect':
      takeEffect(r, draft, comment.name, at);
      return;
    case 'sop':
      spokenOf.cdl = withGrade(spokenOf.cdl, comment.sop);
      return;
    case 'saturation':
      spokenOf.cdl = withGrade(spokenOf.cdl, { saturation: comment.saturation });
      return;
    case 'marker': {
      const read = readTimecode(comment.timecode, r.rate)?.frames ?? draft.record.in;
      const day = framesPerDay(r.rate);
      // Behind midnight its label is of the next day.
      const record = draft.record.in - read > day / 2 ? read + day : read;
      draft.markers.push({ record, colour: comment.colour, text: comment.text });
    }
  }
}

/** A name of what a transition leaves, or of the one clip of a cut. Some systems name both sides of a transition so, the incoming one second. */
function takeFromName(r: Reading, draft: Draft, name: string, at: number): void {
  if (!draft.transitionIn) {
    if (draft.clipName !== '') keepOtherName(r, draft, draft.clipName, name, at);
    else draft.clipName = name;
    draft.side = 'from';
    return;
  }
  const left = draft.fromSide.clipName;
  if (left === '' || left === name) {
    draft.side = 'from';
    draft.fromSide.clipName = name;
    return;
  }
  if (draft.clipName !== '') {
    keepOtherName(r, draft, left, name, at);
    return;
  }
  draft.side = 'to';
  draft.namesIncoming = true;
  draft.clipName = name;
  say(r, 'changed', 'two-names', at, EDL_WORDS.secondName({ event: named(draft), left, name }), draft);
}

/** Keeps a second name of an event as a note. */
function keepOtherName(r: Reading, draft: Draft, kept: string, other: string, at: number): void {
  if (other === '' || other === kept) return;
  draft.notes.push(`FROM CLIP NAME: ${other}`);
  say(r, 'kept', 'two-names', at, EDL_WORDS.twoNames({ event: named(draft), kept, name: other }), draft);
}

const MADE_KINDS: readonly EventKind[] = ['bars', 'generator', 'title'];

function takeFile(side: Side, written: string): void {
  side.fileName = fileNameOfUrl(written);
  side.mediaPath = beyondName(written, side.fileName);
}

/** Names of effects that say no more than the event line does. */
const ORDINARY = /dissolve|wipe|fade|\bcut\b/i;

function takeEffect(r: Reading, draft: Draft, name: string, at: number): void {
  keepNote(r, `EFFECT NAME: ${name}`);
  if (draft.leftOut) return;
  if (draft.transitionIn && !ORDINARY.test(name))
    say(r, 'changed', 'transition-kind', at, EDL_WORDS.transitionKind({ text: excerpt(name), type: draft.transitionIn.type }), draft);
  else if (!draft.transitionIn) say(r, 'lost', 'effect', at, EDL_WORDS.effect({ text: excerpt(name) }), draft);
}

/**
 * Gives each side of a transition what its comments say of it. A name of the outgoing clip alone speaks of the incoming
 * one where the outgoing is black or has another name; a grade or a file beside it does so too. What contradicts the
 * outgoing event's own lines is said, and those stand.
 */
export function settleSides(r: Reading, draft: Draft): void {
  const { fromSide, from } = draft;
  if (!draft.transitionIn || (fromSide.clipName === '' && fromSide.fileName === '' && fromSide.cdl === null)) return;
  if (!draft.namesIncoming) {
    draft.cdl ??= fromSide.cdl;
    if (draft.fileName === '') takeOver(draft, fromSide);
    const another = draft.transitionIn.from === 'black' || (from !== null && from.clipName !== '' && from.clipName !== fromSide.clipName);
    if (draft.clipName === '' && another) draft.clipName = fromSide.clipName;
    else if (from && from.clipName === '') from.clipName = fromSide.clipName;
    return;
  }
  if (!from) {
    if (draft.transitionIn.from === 'previous' && fromSide.clipName !== '') draft.notes.push(`FROM CLIP NAME: ${fromSide.clipName}`);
    return;
  }
  const differs =
    (fromSide.clipName !== '' && from.clipName !== '' && from.clipName !== fromSide.clipName) ||
    (fromSide.fileName !== '' && from.fileName !== '' && from.fileName !== fromSide.fileName) ||
    (fromSide.cdl !== null && from.cdl !== null && JSON.stringify(from.cdl) !== JSON.stringify(fromSide.cdl));
  if (differs)
    say(
      r,
      'changed',
      'outgoing-differs',
      draft.line,
      EDL_WORDS.otherClipLeft({ event: named(draft), left: named(from), clipName: from.clipName }),
      from,
    );
  if (from.clipName === '') from.clipName = fromSide.clipName;
  if (from.fileName === '') takeOver(from, fromSide);
  from.cdl ??= fromSide.cdl;
}

function takeOver(to: Side, { fileName, mediaPath }: Side): void {
  to.fileName = fileName;
  to.mediaPath = mediaPath;
}
