import { z } from 'zod';
import { formatTimecode } from '../time';
import type { Claim, Original } from './model';

/**
 * What a person says of an original in place of what its sources say. Null takes the word back.
 * `start` counts frames from 00:00:00:00 at the original's own rate; its path is its identity.
 */
export const correctionSchema = z.object({
  kind: z.literal('correct'),
  original: z.string().min(1),
  reel: z.string().trim().max(128).nullable().optional(),
  start: z.int().min(0).max(100_000_000).nullable().optional(),
});
export type Correction = z.infer<typeof correctionSchema>;

const BY_HAND = 'set by hand';

/** The originals as they are taken to be once all corrections are made, the last word counting. The files are not touched. */
export function withCorrections(originals: readonly Original[], corrections: readonly Correction[]): Original[] {
  if (corrections.length === 0) return [...originals];
  const words = new Map<string, Correction>();
  for (const c of corrections) words.set(c.original, { ...words.get(c.original), ...c });
  return originals.map((o) => {
    const word = words.get(o.path);
    return word ? corrected(o, word) : o;
  });
}

function corrected(o: Original, { reel, start }: Correction): Original {
  const set = (field: Claim['field'], value: string): Claim => ({ field, value, origin: BY_HAND, taken: true });
  const claims: Claim[] = [];
  if (typeof reel === 'string') claims.push(set('reel', reel));
  if (typeof start === 'number') claims.push(set('timecode', formatTimecode(start, o.rate)));
  const settled = new Set(claims.map((c) => c.field));
  return {
    ...o,
    reel: typeof reel === 'string' ? reel : o.reel,
    start: typeof start === 'number' ? start : o.start,
    hasTimecode: typeof start === 'number' || o.hasTimecode,
    claims: [...claims, ...o.claims.map((c) => (settled.has(c.field) ? { ...c, taken: false } : c))],
    warnings: o.warnings.filter((w) => ![...settled].some((field) => w.code === `${field}-disagrees`)),
  };
}

/** The correction that shifts an original's timecode, from where it is now. */
export const shiftedBy = (o: Original, frames: number): Correction => ({
  kind: 'correct',
  original: o.path,
  start: Math.max(0, o.start + frames),
});

/** A volume that moved: everything below the old folder is below the new one. */
export interface Move {
  readonly from: string;
  readonly to: string;
}

/** Where a path lies after the moves, taken in order. Paths use `/`. */
export function movedPath(path: string, moves: readonly Move[]): string {
  return moves.reduce((at, { from, to }) => (at === from || at.startsWith(`${from}/`) ? to + at.slice(from.length) : at), path);
}

/** How alike two sets of originals are: the share of the one's files that stand at the same place below the other's folder with the same size, 0..1. */
export function likenessOfVolumes(known: readonly Original[], knownAt: string, found: readonly Original[], foundAt: string): number {
  if (known.length === 0) return 0;
  const below = (o: Original, root: string) => `${o.path.slice(root.length)} ${o.bytes}`;
  const there = new Set(found.map((o) => below(o, foundAt)));
  return known.filter((o) => there.has(below(o, knownAt))).length / known.length;
}
