import type { Cdl } from '../../edit';
import { NEUTRAL_CDL } from '../../grade/cdl';
import { isTimecode } from '../../time';

/** What a comment line means where it follows the conventions in common use; null for free text. */
export type Comment =
  | { readonly kind: 'from-clip' | 'to-clip' | 'source-file' | 'from-file' | 'to-file'; readonly name: string }
  | { readonly kind: 'sop'; readonly sop: Pick<Cdl, 'slope' | 'offset' | 'power'> }
  | { readonly kind: 'saturation'; readonly saturation: number }
  | { readonly kind: 'effect'; readonly name: string }
  | { readonly kind: 'reel'; readonly name: string }
  | { readonly kind: 'made'; readonly what: string }
  | { readonly kind: 'note'; readonly text: string }
  | { readonly kind: 'reel-replaced'; readonly name: string; readonly written: string }
  | { readonly kind: 'marker'; readonly timecode: string; readonly colour: string | null; readonly text: string };

type Named = 'from-clip' | 'to-clip' | 'source-file' | 'from-file' | 'to-file' | 'effect' | 'reel';
const NAMES: Record<string, Named> = {
  'FROM CLIP NAME': 'from-clip',
  'CLIP NAME': 'from-clip',
  'TO CLIP NAME': 'to-clip',
  'KEY CLIP NAME': 'to-clip',
  'SOURCE FILE': 'source-file',
  'FILE NAME': 'source-file',
  'FROM FILE': 'from-file',
  'FROM CLIP': 'from-file',
  'TO FILE': 'to-file',
  'TO CLIP': 'to-file',
  'EFFECT NAME': 'effect',
  'ORIGINAL REEL': 'reel',
};

/** No heading of a comment is longer, blanks included. */
const LONGEST_HEADING = 40;

/** Kinds of events that need no original, as our own writer names them: no field of the format says it. */
export const MADE = 'MADE BY THE EDITING SYSTEM';

/** True for a comment that tells that its event is a title or made by the editor's system (common practice). */
export const saysTitle = (text: string): boolean => /^(?:TITLE|GENERATOR|TEXT)\b[^:]{0,40}:/i.test(text);

/** True for an event of an unnamed source whose clip is called as titles are (common practice). */
export const seemsMade = (reel: string, clipName: string): boolean =>
  /^(?:AX)?$/i.test(reel.trim()) && /^(?:title|text|caption|subtitle|credits?)\b/i.test(clipName);

/** A comment that says nothing but its text. */
export const NOTE = 'NOTE';

/** Names of colours that markers have in lists in use (common practice); any other first word is text. */
const COLOURS = new Set('RED GREEN BLUE CYAN MAGENTA YELLOW BLACK WHITE PURPLE ORANGE PINK BROWN GREY GRAY'.split(' '));

/** Reads the text of a comment, without its asterisk (ASC CDL 1.2 for the grades; else common practice). */
export function readComment(given: string): Comment | null {
  const text = given.trim();
  const colon = text.indexOf(':');
  if (colon >= 0 && colon <= LONGEST_HEADING) {
    const heading = text.slice(0, colon).trim().toUpperCase().replace(/\s+/g, ' ');
    const name = text.slice(colon + 1).trim();
    if (heading === NOTE) return { kind: 'note', text: name };
    if (heading === MADE) return { kind: 'made', what: name.toLowerCase() };
    const kind = NAMES[heading];
    if (kind) return { kind, name };
  }
  return replacedReel(text) ?? grade(text) ?? marker(text);
}

/** `REEL A001_20260401_LEFT REPLACED BY A0010401`, also with further words before it. */
function replacedReel(text: string): Comment | null {
  const capitals = text.toUpperCase();
  const by = capitals.indexOf(' REPLACED BY');
  const reel = by < 0 ? -1 : capitals.lastIndexOf('REEL', LONGEST_HEADING);
  if (reel < 0 || reel > by || /\w/.test(text[reel - 1] ?? ' ') || /\w/.test(text[reel + 4] ?? '')) return null;
  const name = text
    .slice(reel + 4, by)
    .replace(/^\s*:/, '')
    .trim();
  const written = text
    .slice(by + ' REPLACED BY'.length)
    .replace(/^\s*:/, '')
    .trim();
  return name === '' || written === '' || /\s/.test(written) ? null : { kind: 'reel-replaced', name, written };
}

/** `ASC_SOP (1 1 1)(0 0 0)(1 1 1)` and `ASC_SAT 1`; digits may end with their point. Grades that cannot be are none. */
function grade(text: string): Comment | null {
  const what = text.slice(0, 7).toUpperCase();
  if (what !== 'ASC_SOP' && what !== 'ASC_SAT') return null;
  const words = text
    .slice(7)
    .replace(/^\s*:/, '')
    .split(/[\s,()]+/)
    .filter((w) => w !== '');
  const n = words.map(numberOf);
  if (n.some((v) => v === null)) return null;
  if (what === 'ASC_SAT') return n.length === 1 && (n[0] as number) >= 0 ? { kind: 'saturation', saturation: n[0] as number } : null;
  if (n.length !== 9) return null;
  const triple = (at: number) => [n[at] as number, n[at + 1] as number, n[at + 2] as number] as const;
  const [slope, offset, power] = [triple(0), triple(3), triple(6)];
  return [...slope, ...power].some((v) => v < 0) ? null : { kind: 'sop', sop: { slope, offset, power } };
}

const numberOf = (word: string): number | null =>
  word.length <= LONGEST_HEADING && /^[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d{1,3})?$/i.test(word) ? Number(word) : null;

/**
 * `LOC: 01:00:00:00 RED     text`. A first word is the colour where it is one, or where blanks set it apart from the text as
 * in a column; a column of blanks is no colour.
 */
function marker(text: string): Comment | null {
  const loc = /^LOC:?\s{1,8}(\S{8,15})(?=\s|$)/i.exec(text);
  const timecode = loc?.[1] ?? '';
  if (!loc || !isTimecode(timecode)) return null;
  const rest = text.slice(loc[0].length);
  if (/^\s{8}/.test(rest)) return { kind: 'marker', timecode, colour: null, text: rest.trim() };
  const said = rest.trim();
  const [first = ''] = said.slice(0, LONGEST_HEADING).split(/\s/);
  const colour = COLOURS.has(first) || (/^[A-Z]+$/.test(first) && /^\s{2}/.test(said.slice(first.length))) ? first : null;
  return { kind: 'marker', timecode, colour, text: colour ? said.slice(colour.length).trim() : said };
}

/** What `readComment` reads as that marker. */
export const markerText = (timecode: string, colour: string | null, text: string): string =>
  `LOC: ${timecode} ${(colour ?? '').padEnd(colour === null ? 8 : Math.max(7, colour.length + 1))} ${text}`.trimEnd();

/** Puts one part of a grade onto what is known of it so far. */
export function withGrade(cdl: Cdl | null, part: Partial<Cdl>): Cdl {
  return { ...(cdl ?? NEUTRAL_CDL), ...part };
}
