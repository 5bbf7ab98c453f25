import type { Cdl } from '../../edit';
import { NEUTRAL_CDL } from '../../grade/cdl';

/** What a comment line means where it follows the conventions in common use; null for free text. */
export type Comment =
  | { readonly kind: 'from-clip'; readonly name: string }
  | { readonly kind: 'to-clip'; readonly name: string }
  | { readonly kind: 'source-file'; readonly name: string }
  | { readonly kind: 'sop'; readonly sop: Pick<Cdl, 'slope' | 'offset' | 'power'> }
  | { readonly kind: 'saturation'; readonly saturation: number }
  | { readonly kind: 'marker'; readonly timecode: string; readonly colour: string | null; readonly text: string };

const NUMBER = String.raw`[+-]?\d*\.?\d+(?:e[+-]?\d+)?`;
const TRIPLE = String.raw`\(\s*(${NUMBER})[\s,]+(${NUMBER})[\s,]+(${NUMBER})\s*\)`;
const SOP = new RegExp(String.raw`^ASC_SOP:?\s*${TRIPLE}\s*${TRIPLE}\s*${TRIPLE}\s*$`, 'i');
const SAT = new RegExp(String.raw`^ASC_SAT:?\s*(${NUMBER})\s*$`, 'i');
const LOC = /^LOC:?\s+(\d{1,3}[:;.,]\d\d[:;.,]\d\d[:;.,]\d{2,3})(?:\s+([A-Z]+))?(?:\s+(.*))?$/i;

/** Reads the text of a comment, without its asterisk (ASC CDL 1.2 for the grades; else common practice). */
export function readComment(text: string): Comment | null {
  const named = /^(FROM CLIP NAME|TO CLIP NAME|SOURCE FILE)\s*:\s*(.*?)\s*$/i.exec(text);
  if (named) {
    const kind = { F: 'from-clip', T: 'to-clip', S: 'source-file' }[named[1]?.[0]?.toUpperCase() ?? ''];
    return { kind, name: named[2] ?? '' } as Comment;
  }
  const sop = SOP.exec(text);
  if (sop) {
    const n = sop.slice(1).map(Number) as number[];
    const triple = (at: number) => [n[at] ?? 0, n[at + 1] ?? 0, n[at + 2] ?? 0] as const;
    const [slope, power] = [triple(0), triple(6)];
    if ([...slope, ...power].some((v) => v < 0)) return null;
    return { kind: 'sop', sop: { slope, offset: triple(3), power } };
  }
  const saturation = SAT.exec(text);
  if (saturation && Number(saturation[1]) >= 0) return { kind: 'saturation', saturation: Number(saturation[1]) };
  const marker = LOC.exec(text);
  if (marker) return { kind: 'marker', timecode: marker[1] ?? '', colour: marker[2] ?? null, text: (marker[3] ?? '').trim() };
  return null;
}

/** Puts one part of a grade onto what is known of it so far. */
export function withGrade(cdl: Cdl | null, part: Partial<Cdl>): Cdl {
  return { ...(cdl ?? NEUTRAL_CDL), ...part };
}
