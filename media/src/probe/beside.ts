import { type Stats, statSync } from 'node:fs';
import path from 'node:path';
import { FOLDER, parseRate, type Rate, type Said, type StatedChecksum, type StatedGrade } from '@gemello/core';

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
  /** A short text that changes when size, time or inode of any file does (FNV-1a, 64 bits in two halves). */
  readonly stamp: string;
  /** Of the clip's own files. */
  readonly bytes: number;
}

/**
 * The stamp of a clip's files, and of what else speaks of it. `opened` is the state of the first file where
 * that is known, which saves asking for it. Throws the system's error when a file is gone.
 */
export function stampOf(files: readonly string[], papers: readonly string[] = [], opened?: Stats): Stamped {
  const state: State = { a: 0x811c9dc5, b: 0x01000193 };
  let bytes = 0;
  for (let i = 0; i < files.length; i++) bytes += take(state, i === 0 && opened ? opened : statSync(files[i] as string));
  for (const file of papers) take(state, statSync(file));
  return { stamp: `${state.a >>> 0}.${state.b >>> 0}`, bytes };
}

interface State {
  a: number;
  b: number;
}

function take(state: State, { size, mtimeMs, ino }: Stats): number {
  mix(state, size);
  mix(state, mtimeMs);
  mix(state, ino);
  return size;
}

function mix(state: State, n: number): void {
  state.a = Math.imul(state.a ^ (n | 0), 0x01000193);
  state.b = Math.imul(state.b ^ ((n / 4294967296) | 0) ^ state.a, 0x811c9dc5);
}
