/**
 * The lines of a CMX 3600 style edit list (SMPTE ST 258 lineage). Fields are found from the right,
 * where four timecodes stand, so that event numbers of any width and reels of up to 128
 * characters, blanks included, are read alike. Every line takes time in proportion to its length.
 */
import { canBeSpeed } from '../../edit';
import { isTimecode } from '../../time';
import { readComment } from './comments';

const CHANNELS = /^(?:NONE|(?:[VAB]\d*|AA)(?:\/(?:V\d*|A\d*|AA))*|(?:V\d*)?A\d+(?:A\d+)*)$/i;
const JOIN = /^(?:C|D|W\d{0,3}|K)$/i;
/** Shorter lines say something only with their first letter: a comment, a number, `M2`, `AUD`. */
const SHORTEST_LINE = 6;
const LONGEST_REEL = 128;
const LONGEST_WORD = 200;
/** Numbers of events, as they stand in lists. */
export const EVENT_NUMBER = /^\d+[A-Z]?\.?$/i;

/** An event line, cut into its fields. Timecodes are still text. */
export interface EventLine {
  readonly kind: 'event';
  readonly number: string;
  /** Empty where the line has no room for one. */
  readonly reel: string;
  /** Track names: `V1`, `A1`, `A2`… */
  readonly channels: readonly string[];
  readonly join: 'cut' | 'dissolve' | 'wipe' | 'key';
  readonly wipeCode: string | null;
  /** Length of the join in frames; 0 for a cut. */
  readonly duration: number;
  /** True where a dissolve or a wipe is written without a length, which makes it a cut. */
  readonly lengthless: boolean;
  readonly sourceIn: string;
  readonly sourceOut: string;
  readonly recordIn: string;
  readonly recordOut: string;
}

export interface MotionLine {
  readonly kind: 'motion';
  readonly reel: string;
  readonly framesPerSecond: number;
  /** Places behind the point that it is written with: it is rounded to those. */
  readonly decimals: number;
  readonly timecode: string;
}

/** What one line of the list is. */
export type Line =
  | EventLine
  | MotionLine
  | { readonly kind: 'title'; readonly text: string }
  | { readonly kind: 'fcm'; readonly dropFrame: boolean }
  | { readonly kind: 'comment'; readonly text: string }
  | { readonly kind: 'extra-audio'; readonly channels: readonly string[] }
  | { readonly kind: 'broken'; readonly text: string }
  | { readonly kind: 'unknown'; readonly text: string };

/** A line that says something, with its place in the file, from 1. */
export interface PlacedLine {
  readonly line: Line;
  readonly at: number;
}

/** A timecode that can stand in a list: none is below zero. */
const isLabel = (word: string): boolean => word[0] !== '-' && isTimecode(word);

const TITLE = /^TITLE:/i;
const JOINS = { C: 'cut', D: 'dissolve', W: 'wipe', K: 'key' } as const;

/** All lines that say something, one by one: a list may have millions. */
export function* linesOf(text: string): Generator<PlacedLine> {
  for (let [from, at] = [0, 1]; from <= text.length; at++) {
    const end = endOfLine(text, from);
    const line = end > from ? readLine(text.slice(from, end)) : null;
    from = end + (text.charCodeAt(end) === 13 && text.charCodeAt(end + 1) === 10 ? 2 : 1);
    if (line) yield { line, at };
  }
}

/** Where the line ends that begins at `from`: at CR, LF or the end of the text. */
function endOfLine(text: string, from: number): number {
  let at = from;
  for (; at < text.length; at++) {
    const c = text.charCodeAt(at);
    if (c === 10 || c === 13) break;
  }
  return at;
}

/** Tells what a line is; null for an empty one. Never throws; what it does not know comes back as `unknown` or `broken`. */
function readLine(raw: string): Line | null {
  const line = (raw.charCodeAt(0) === 0xfeff ? raw.slice(1) : raw).trim();
  if (line === '') return null;
  if (line.length < SHORTEST_LINE && !/^[*\dMA]/i.test(line)) return { kind: 'unknown', text: line };
  if (line[0] === '*') return { kind: 'comment', text: line.slice(line[1] === ' ' ? 2 : 1) };
  if (TITLE.test(line)) return { kind: 'title', text: line.slice('TITLE:'.length).trim() };
  const fcm = /^FCM:\s{0,8}(NON[\s-]{0,4})?DROP\s{0,4}-?\s{0,4}FRAME/i.exec(line);
  if (fcm) return { kind: 'fcm', dropFrame: !fcm[1] };

  const words = line.split(/\s+/);
  if (/^M2$/i.test(words[0] ?? '')) return motionLine(words) ?? { kind: 'broken', text: line };
  if (/^AUD$/i.test(words[0] ?? '') && words.length > 1 && words.slice(1).every((w) => /^\d{1,3}$/.test(w)))
    return { kind: 'extra-audio', channels: words.slice(1).map((n) => `A${n}`) };
  const event = eventLine(words);
  if (event) return event;
  if ((words.length > 1 && /^\d+$/.test(words[0] ?? '')) || words.some(isLabel)) return { kind: 'broken', text: line };
  // Some systems leave the asterisk out.
  return readComment(line) ? { kind: 'comment', text: line } : { kind: 'unknown', text: line };
}

/** The lowest rate of a cut, against which a speed is judged before its rate is known. */
const SLOWEST_CUT = 24;

/** `M2`, a reel or a name of any words, frames per second, the source in. */
function motionLine(words: readonly string[]): MotionLine | null {
  const [rate = '', timecode = ''] = words.slice(-2);
  const reel = words.slice(1, -2).join(' ');
  if (words.length < 3 || reel.length > LONGEST_REEL || !isLabel(timecode) || !/^[+-]?\d{1,9}(?:\.\d{0,12})?$/.test(rate)) return null;
  // Frames per second of what cannot be a speed are a fault of the line.
  return canBeSpeed(Number(rate) / SLOWEST_CUT)
    ? { kind: 'motion', reel, framesPerSecond: Number(rate), decimals: rate.split('.')[1]?.length ?? 0, timecode }
    : null;
}

/** The fields of an event line, taken from the right; null when it is none. */
function eventLine(words: readonly string[]): EventLine | null {
  let at = words.length - 4;
  if (at < 2) return null;
  const [sourceIn = '', sourceOut = '', recordIn = '', recordOut = ''] = words.slice(at);
  if (![sourceIn, sourceOut, recordIn, recordOut].every(isLabel)) return null;
  const before = () => words[--at] ?? '';
  let code = before();
  let duration = 0;
  if (/^\d{1,4}$/.test(code)) {
    duration = Number(code);
    code = before();
  }
  // A key says whether it is the background or the overlay: `K B`, `K O`.
  if (/^[BO]$/i.test(code) && /^K$/i.test(words[at - 1] ?? '')) code = before();
  if (!JOIN.test(code)) return null;
  const channels = before();
  if (at < 0 || channels.length > LONGEST_WORD || !CHANNELS.test(channels)) return null;
  const [first = ''] = words;
  // One word alone is the number where it can be one: a missing reel must not take it.
  const numbered = at >= 1 && first.length <= LONGEST_WORD && EVENT_NUMBER.test(first);
  const reel = words.slice(numbered ? 1 : 0, at).join(' ');
  if (at < 1 || reel.length > LONGEST_REEL) return null;
  const letter = (code[0] ?? 'C').toUpperCase() as keyof typeof JOINS;
  const lengthless = duration === 0 && (letter === 'D' || letter === 'W');
  return {
    kind: 'event',
    number: numbered ? first.replace(/\.$/, '') : '',
    reel,
    channels: channelNames(channels.toUpperCase()),
    join: lengthless ? 'cut' : JOINS[letter],
    wipeCode: letter === 'W' && !lengthless ? code.slice(1) : null,
    duration,
    lengthless,
    sourceIn,
    sourceOut,
    recordIn,
    recordOut,
  };
}

/** What most lines say. */
const USUAL_CHANNELS: Readonly<Record<string, readonly string[]>> = {
  V: ['V1'],
  A: ['A1'],
  B: ['V1', 'A1'],
  V1: ['V1'],
  V2: ['V2'],
  A1: ['A1'],
  A2: ['A2'],
};

/** `B` is picture and first sound, `AA` two sounds, `V` the first layer (common practice). */
function channelNames(text: string): readonly string[] {
  const usual = USUAL_CHANNELS[text];
  if (usual) return usual;
  const names = text.split('/').flatMap((part) => {
    if (part === 'B') return ['V1', 'A1'];
    if (part === 'AA') return ['A1', 'A2'];
    if (part === 'NONE') return [];
    return part.match(/[VA]\d*/g)?.map((c) => (c.length === 1 ? `${c}1` : c)) ?? [];
  });
  return [...new Set(names)].sort((a, b) => (a[0] === b[0] ? Number(a.slice(1)) - Number(b.slice(1)) : a < b ? 1 : -1));
}

/** The channel field for a set of tracks, the shortest form that `readLine` takes back. */
export function channelField(tracks: readonly string[]): string {
  const key = tracks.join(' ');
  const known: Record<string, string> = { V1: 'V', A1: 'A', 'V1 A1': 'B', 'A1 A2': 'AA', 'V1 A1 A2': 'AA/V' };
  return known[key] ?? tracks.join('/');
}

/** A longer line is no event's. */
const LONGEST_LINE = 1000;

/** True for text with a title, a counting or an event line; a number before timecodes is enough. */
export function looksLikeEdl(head: string): boolean {
  for (let from = 0; from < head.length; ) {
    const end = endOfLine(head, from);
    const line = head
      .slice(from, Math.min(end, from + LONGEST_LINE))
      .replace(/^\uFEFF/, '')
      .trim();
    if (/^(?:TITLE|FCM):/i.test(line)) return true;
    const words = line.split(/\s+/);
    if (words.length > 2 && EVENT_NUMBER.test(words[0] ?? '') && words.slice(2).some(isLabel)) return true;
    from = end + 1;
  }
  return false;
}
