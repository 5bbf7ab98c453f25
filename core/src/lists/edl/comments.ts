import type { Cdl } from '../../edit';
import { NEUTRAL_CDL } from '../../grade/cdl';

/** What a comment line means where it follows the conventions in common use; null for free text. */
export type Comment =
  | { readonly kind: 'from-clip'; readonly name: string }
  | { readonly kind: 'to-clip'; readonly name: string }
  | { readonly kind: 'source-file'; readonly name: string }
  | { readonly kind: 'sop'; readonly sop: Pick<Cdl, 'slope' | 'offset' | 'power'> }
  | { readonly kind: 'saturation'; readonly saturation: number }
  | { readonly kind: 'effect'; readonly name: string }
  | { readonly kind: 'reel'; readonly name: string }
  | { readonly kind: 'reel-replaced'; readonly name: string; readonly written: string }
  | { readonly kind: 'marker'; readonly timecode: string; readonly colour: string | null; readonly text: string };

const NUMBER = String.raw`[+-]?\d*\.?\d+(?:e[+-]?\d+)?`;
const TRIPLE = String.raw`\(\s*(${NUMBER})[\s,]+(${NUMBER})[\s,]+(${NUMBER})\s*\)`;
const SOP = new RegExp(String.raw`^ASC_SOP:?\s*${TRIPLE}\s*${TRIPLE}\s*${TRIPLE}\s*$`, 'i');
const SAT = new RegExp(String.raw`^ASC_SAT:?\s*(${NUMBER})\s*$`, 'i');
const LOC = /^LOC:?\s+(\d{1,3}[:;.,]\d\d[:;.,]\d\d[:;.,]\d{2,3})(?:\s+([A-Z]+))?(?:\s+(.*))?$/i;

const NAMES: Record<string, 'from-clip' | 'to-clip' | 'source-file' | 'effect' | 'reel'> = {
  'FROM CLIP NAME': 'from-clip',
  'CLIP NAME': 'from-clip',
  'TO CLIP NAME': 'to-clip',
  'KEY CLIP NAME': 'to-clip',
  'SOURCE FILE': 'source-file',
  'FROM FILE': 'source-file',
  'FROM CLIP': 'source-file',
  'FILE NAME': 'source-file',
  'EFFECT NAME': 'effect',
  'ORIGINAL REEL': 'reel',
};
const NAMED = /^([A-Z]+(?:\s+[A-Z]+){1,2})\s*:\s*(.*?)\s*$/i;
const REPLACED = /\bREEL\s*:?\s+(\S.*?)\s+REPLACED BY\s*:?\s+(\S+)\s*$/i;

/** Reads the text of a comment, without its asterisk (ASC CDL 1.2 for the grades; else common practice). */
export function readComment(text: string): Comment | null {
  const named = NAMED.exec(text);
  const kind = named && NAMES[(named[1] ?? '').toUpperCase().replace(/\s+/g, ' ')];
  if (kind) return { kind, name: named?.[2] ?? '' };
  const replaced = REPLACED.exec(text);
  if (replaced) return { kind: 'reel-replaced', name: replaced[1] ?? '', written: replaced[2] ?? '' };
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
