import { z } from 'zod';
import { type Frames, formatRate, formatTimecode, parseRate, parseTimecode, type Rate, relabel } from '../time';
import type { Claim, Original } from './model';

/**
 * What a person says of an original in place of what its sources say. Null takes the word back.
 * `start` counts frames from 00:00:00:00 at the rate it is then taken to have; its path is its identity.
 * A `rate` says how the frames are to be counted: the start keeps its label. `source` names what the
 * person went by, such as a clip log.
 */
export const correctionSchema = z.object({
  kind: z.literal('correct'),
  original: z.string().min(1),
  reel: z.string().trim().max(128).nullable().optional(),
  scene: z.string().trim().max(128).nullable().optional(),
  take: z.string().trim().max(128).nullable().optional(),
  start: z.int().min(0).max(100_000_000).nullable().optional(),
  /** As people write it: `25`, `24000/1001`, `29.97df`. */
  rate: z
    .string()
    .refine((text) => parseRate(text) !== null, 'Give a rate such as 25, 23.976 or 29.97df.')
    .nullable()
    .optional(),
  source: z.string().trim().min(1).max(200).optional(),
});
export type Correction = z.infer<typeof correctionSchema>;

/** A shift of timecode as people write it: frames, or a label at the clip's own rate; `-` is earlier. */
const SHIFT = /^[+-]?(?:\d{1,8}|\d{1,2}[:;]\d{2}[:;]\d{2}[:;]\d{2,3})$/;

/**
 * What a person says of all that lies in a folder and below, now or later: one reel, or a constant
 * shift of timecode. The word about a single clip counts before it, and so does the nearer folder's.
 */
export const folderCorrectionSchema = z.object({
  kind: z.literal('correct-folder'),
  folder: z.string().min(1),
  reel: z.string().trim().max(128).nullable().optional(),
  shift: z.string().trim().regex(SHIFT, 'Give a shift in frames or as a timecode, such as +12 or -01:00:00:00.').nullable().optional(),
});
export type FolderCorrection = z.infer<typeof folderCorrectionSchema>;

const BY_HAND = 'set by hand';

/** A shift in frames at a rate; null when the text is none. */
export function shiftIn(text: string, rate: Rate): Frames | null {
  const trimmed = text.trim();
  if (!SHIFT.test(trimmed)) return null;
  const size = trimmed.replace(/^[+-]/, '');
  const frames = /^\d+$/.test(size) ? Number(size) : parseTimecode(size, rate);
  return frames === null ? null : trimmed.startsWith('-') ? -frames : frames;
}

/** The originals as they are taken to be once all corrections are made, the last word counting. The files are not touched. */
export function withCorrections(originals: readonly Original[], corrections: readonly (Correction | FolderCorrection)[]): Original[] {
  if (corrections.length === 0) return [...originals];
  const words = new Map<string, Correction[]>();
  const ofFolders = new Map<string, FolderCorrection>();
  for (const c of corrections)
    if (c.kind === 'correct') words.set(c.original, [...(words.get(c.original) ?? []), c]);
    else ofFolders.set(c.folder, { ...ofFolders.get(c.folder), ...c });
  const folders = [...ofFolders.values()].sort((a, b) => b.folder.length - a.folder.length);
  return originals.map((o) => {
    const around = folders.filter((f) => o.path.startsWith(`${f.folder}/`));
    const word = words.get(o.path);
    if (!word && around.length === 0) return o;
    const inFolder = corrected(o, folderWord(o, around));
    return word ? corrected(inFolder, wordOf(inFolder, word)) : inFolder;
  });
}

/** What is said of a clip in words alone, and changes nothing else of it. */
const SPOKEN = ['reel', 'scene', 'take'] as const;

interface Word {
  readonly reel?: string | null;
  readonly scene?: string | null;
  readonly take?: string | null;
  readonly start?: Frames | null;
  readonly rate?: Rate | null;
  readonly source?: string;
}

/** What all words about a clip come to: the last of each kind, a start keeping its label where the rate is set after it. */
function wordOf(o: Original, corrections: readonly Correction[]): Word {
  let word: Word = {};
  for (const { start, rate, source, ...said } of corrections) {
    if (rate !== undefined) {
      const [before, now] = [word.rate ?? o.rate, rate === null ? null : parseRate(rate)];
      const kept = typeof word.start === 'number' ? { start: relabel(word.start, before, now ?? o.rate) } : {};
      word = { ...word, rate: now, ...kept };
    }
    for (const field of SPOKEN) if (said[field] !== undefined) word = { ...word, [field]: said[field] };
    if (start !== undefined) word = { ...word, start };
    word = source === undefined ? word : { ...word, source };
  }
  return word;
}

/** What the folders around a clip say of it, the nearest first. */
function folderWord(o: Original, around: readonly FolderCorrection[]): Word | null {
  const reel = around.find((f) => f.reel !== undefined && f.reel !== null);
  const shift = around.find((f) => f.shift !== undefined && f.shift !== null);
  if (!reel && !shift) return null;
  const frames = shift?.shift && o.hasTimecode ? shiftIn(shift.shift, o.rate) : null;
  const folder = (reel ?? shift)?.folder.split('/').pop();
  return {
    source: `set by hand for the folder ${folder}`,
    ...(reel ? { reel: reel.reel } : {}),
    ...(frames === null ? {} : { start: Math.max(0, o.start + frames) }),
  };
}

function corrected(o: Original, word: Word | null): Original {
  if (!word) return o;
  const { reel, source } = word;
  const rate = word.rate ?? o.rate;
  const start = typeof word.start === 'number' ? word.start : word.rate && o.hasTimecode ? relabel(o.start, o.rate, rate) : o.start;
  const set = (field: Claim['field'], value: string): Claim => ({ field, value, origin: source ?? BY_HAND, taken: true });
  const claims: Claim[] = [];
  for (const field of SPOKEN) {
    const value = word[field];
    if (typeof value === 'string') claims.push(set(field, value));
  }
  if (typeof word.start === 'number') claims.push(set('timecode', formatTimecode(start, rate)));
  if (word.rate) claims.push(set('rate', formatRate(rate)));
  if (claims.length === 0) return o;
  const settled = new Set(claims.map((c) => c.field));
  return {
    ...o,
    reel: typeof reel === 'string' ? reel : o.reel,
    start,
    rate,
    // Only a movie has a clock of its own: numbered frames and sound run at whatever rate they are said to.
    clock: o.kind === 'movie' ? o.clock : rate,
    // Sound has as many frames as its time makes at the rate.
    frames: o.kind === 'sound' ? Math.floor((o.frames * o.rate.den * rate.num) / (o.rate.num * rate.den) + 1e-6) : o.frames,
    hasTimecode: typeof word.start === 'number' || o.hasTimecode,
    claims: [...claims, ...o.claims.map((c) => (settled.has(c.field) ? { ...c, taken: false } : c))],
    warnings: o.warnings.filter((w) => ![...settled].some((field) => w.code === `${field}-disagrees` || w.code === `${field}-unknown`)),
  };
}

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
