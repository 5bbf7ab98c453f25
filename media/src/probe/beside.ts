import { createHash } from 'node:crypto';
import { type Stats, statSync } from 'node:fs';
import path from 'node:path';
import { FOLDER, parseRate, type Rate, type Said, type StatedChecksum, type StatedGrade, stampFrom } from '@gemello/core';

/** What stands beside a clip and speaks of it; `said` in the order of trust. */
export interface Beside {
  readonly sidecars: readonly string[];
  readonly said: readonly Said[];
  readonly checksums: readonly StatedChecksum[];
  readonly grades: readonly StatedGrade[];
  /** The files that hold it, as paths: when one of them changes, so does what is known of the clip. */
  readonly papers: readonly string[];
}

export const ALONE: Beside = { sidecars: [], said: [], checksums: [], grades: [], papers: [] };

/** The rate that something beside a clip states; null when nothing does. */
export function statedRate(beside: Beside): Rate | null {
  for (const s of beside.said) {
    const rate = s.field === 'rate' ? parseRate(s.value) : null;
    if (rate) return rate;
  }
  return null;
}

/** A folder that is called like a card: one to three letters, then numbers (common practice). */
const CARD = /^[A-Z]{1,3}_?\d{2,4}(?:[A-Z0-9_]*)$/i;
/** How many folders above a clip may be its card's. */
const NEAREST = 3;

/** The reel that a folder of clips suggests: it or the nearest one above it, below the volume, that is called like a card. */
export function reelOfFolder(inside: string, root: string): Said[] {
  let folder = inside;
  for (let up = 0; up < NEAREST && folder !== root && folder.startsWith(root); up++) {
    const name = path.basename(folder);
    if (CARD.test(name)) return [{ field: 'reel', value: name, origin: FOLDER }];
    folder = path.dirname(folder);
  }
  return [];
}

/** What tells whether a clip changed, and how large it is. */
export interface Stamped {
  /** Changes when size, time or inode of any of its files does, or of what else speaks of it. */
  readonly stamp: string;
  /** Of the clip's own files. */
  readonly bytes: number;
}

/**
 * The stamp of a clip's files, and of what else speaks of it. `opened` is the state of the first file where
 * that is known, which saves asking for it. Throws the system's error when a file is gone.
 */
export function stampOf(files: readonly string[], papers: readonly string[] = [], opened?: Stats): Stamped {
  const states = files.map((file, i) => (i === 0 && opened ? opened : statSync(file)));
  const bytes = states.reduce((sum, { size }) => sum + size, 0);
  return { stamp: stampFrom(digest(states), papers.length === 0 ? '' : digest(papers.map((file) => statSync(file)))), bytes };
}

/** A short text of the states of files: the first 16 characters of SHA-256 in base64url, 96 bits. */
function digest(states: readonly Stats[]): string {
  const numbers = new Float64Array(states.flatMap(({ size, mtimeMs, ino }) => [size, mtimeMs, ino]));
  return createHash('sha256').update(numbers).digest('base64url').slice(0, 16);
}
