/**
 * The lines of a CMX 3600 style edit list (SMPTE ST 258 lineage). Fields are found from the right,
 * where four timecodes stand, so that event numbers of any width and reels of up to 128
 * characters, blanks included, are read alike.
 */

const TC = String.raw`\d{1,3}[:;.,]\d{1,2}[:;.,]\d{1,2}[:;.,]\d{1,3}`;
const TIMECODE = new RegExp(`^${TC}$`);
const CHANNELS = /^(?:NONE|(?:[VAB]\d*|AA)(?:\/(?:V\d*|A\d*|AA))*|(?:V\d*)?A\d+(?:A\d+)*)$/i;
const JOIN = /^(?:C|D|W\d{0,3}|K)$/i;
const LONGEST_REEL = 128;

const MOTION = new RegExp(String.raw`^\s*M2\s+(?:(\S(?:.{0,126}\S)?)\s+)?([+-]?\d+(?:\.\d*)?)\s+(${TC})\s*$`, 'i');
const LOOKS_LIKE_EVENT = new RegExp(String.raw`^\s*\d+\s+\S|${TC}`);

/** An event line, cut into its fields. Timecodes are still text. */
export interface EventLine {
  readonly kind: 'event';
  readonly number: string;
  readonly reel: string;
  /** Track names: `V1`, `A1`, `A2`… */
  readonly channels: readonly string[];
  readonly join: 'cut' | 'dissolve' | 'wipe' | 'key';
  readonly wipeCode: string | null;
  /** Length of the join in frames; 0 when none is written. */
  readonly duration: number;
  readonly sourceIn: string;
  readonly sourceOut: string;
  readonly recordIn: string;
  readonly recordOut: string;
}

/** What one line of the list is. */
export type Line =
  | EventLine
  | { readonly kind: 'title'; readonly text: string }
  | { readonly kind: 'fcm'; readonly dropFrame: boolean }
  | { readonly kind: 'motion'; readonly reel: string; readonly framesPerSecond: number; readonly timecode: string }
  | { readonly kind: 'comment'; readonly text: string }
  | { readonly kind: 'extra-audio'; readonly channels: readonly string[] }
  | { readonly kind: 'empty' }
  | { readonly kind: 'broken'; readonly text: string }
  | { readonly kind: 'unknown'; readonly text: string };

const JOINS = { C: 'cut', D: 'dissolve', W: 'wipe', K: 'key' } as const;

/** Tells what a line is. Never throws; what it does not know comes back as `unknown` or `broken`. */
export function readLine(raw: string): Line {
  const line = raw.replace(/^\uFEFF/, '').trimEnd();
  if (line.trim() === '') return { kind: 'empty' };
  if (/^\s*\*/.test(line)) return { kind: 'comment', text: line.replace(/^\s*\*\s?/, '') };

  const title = /^\s*TITLE:\s?(.*)$/i.exec(line);
  if (title) return { kind: 'title', text: (title[1] ?? '').trim() };
  const fcm = /^\s*FCM:\s*(NON[\s-]*)?DROP\s*-?\s*FRAME/i.exec(line);
  if (fcm) return { kind: 'fcm', dropFrame: !fcm[1] };

  const motion = MOTION.exec(line);
  if (motion) return { kind: 'motion', reel: motion[1] ?? '', framesPerSecond: Number(motion[2]), timecode: motion[3] ?? '' };
  if (/^\s*M2\b/i.test(line)) return { kind: 'broken', text: line };
  const audio = /^\s*AUD((?:\s+\d+)+)\s*$/i.exec(line);
  if (audio)
    return {
      kind: 'extra-audio',
      channels: (audio[1] ?? '')
        .trim()
        .split(/\s+/)
        .map((n) => `A${n}`),
    };

  const event = eventLine(line.trim().split(/\s+/));
  if (event && event.reel.length <= LONGEST_REEL) return event;
  return LOOKS_LIKE_EVENT.test(line) ? { kind: 'broken', text: line } : { kind: 'unknown', text: line.trim() };
}

/** The fields of an event line, taken from the right; null when it is none. */
function eventLine(words: readonly string[]): EventLine | null {
  let at = words.length - 4;
  if (at < 3) return null;
  const [sourceIn = '', sourceOut = '', recordIn = '', recordOut = ''] = words.slice(at);
  if (![sourceIn, sourceOut, recordIn, recordOut].every((w) => TIMECODE.test(w))) return null;
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
  if (at < 1 || !CHANNELS.test(channels)) return null;
  const numbered = at >= 2 && /^\d+[A-Z]?$/i.test(words[0] ?? '');
  const letter = (code[0] ?? 'C').toUpperCase() as keyof typeof JOINS;
  return {
    kind: 'event',
    number: numbered ? (words[0] ?? '') : '',
    reel: words.slice(numbered ? 1 : 0, at).join(' '),
    channels: channelNames(channels.toUpperCase()),
    join: JOINS[letter],
    wipeCode: letter === 'W' ? code.slice(1) : null,
    duration,
    sourceIn,
    sourceOut,
    recordIn,
    recordOut,
  };
}

/** `B` is picture and first sound, `AA` two sounds, `V` the first layer (common practice). */
function channelNames(text: string): string[] {
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
