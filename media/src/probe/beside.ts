import { createHash } from 'node:crypto';
import { closeSync, fstatSync, openSync, readSync, statSync } from 'node:fs';
import path from 'node:path';
import { FOLDER, type Said, type StatedChecksum, type StatedGrade } from '@gemello/core';

/** What stands beside a clip and speaks of it; `said` in the order of trust. */
export interface Beside {
  readonly sidecars: readonly string[];
  readonly said: readonly Said[];
  readonly checksums: readonly StatedChecksum[];
  readonly grades: readonly StatedGrade[];
}

export const ALONE: Beside = { sidecars: [], said: [], checksums: [], grades: [] };

/** A folder that is called like a card: one to three letters, then numbers (common practice). */
const CARD = /^[A-Z]{1,3}_?\d{2,4}(?:[A-Z0-9_]*)$/i;
/** How many folders above a clip may be its card's. */
const NEAREST = 3;

/** The reel that a clip's folders suggest: the nearest one below the volume that is called like a card. */
export function reelOfFolder(file: string, root: string): Said[] {
  let folder = path.dirname(file);
  for (let up = 0; up < NEAREST && folder !== root && folder.startsWith(root); up++) {
    const name = path.basename(folder);
    if (CARD.test(name)) return [{ field: 'reel', value: name, origin: FOLDER }];
    folder = path.dirname(folder);
  }
  return [];
}

/** The first bytes of a file, fewer where it is shorter. Opened read-only. */
export function headOf(file: string, length: number): Uint8Array {
  const bytes = new Uint8Array(length);
  const handle = openSync(file, 'r');
  try {
    return bytes.subarray(0, readSync(handle, bytes, 0, length, 0));
  } finally {
    closeSync(handle);
  }
}

/** How much of a file's head and tail makes its quick fingerprint, in bytes. */
const PRINTED = 4 * 1024;

/** A quick fingerprint of a clip: the sizes, heads and tails of its first and last file (SHA-1). Opened read-only. */
export function printOf(files: readonly string[]): string {
  const hash = createHash('sha1');
  for (const file of new Set([files[0], files.at(-1)])) {
    if (file === undefined) continue;
    const handle = openSync(file, 'r');
    try {
      const { size } = fstatSync(handle);
      hash.update(`${size} `);
      for (const at of new Set([0, Math.max(0, size - PRINTED)])) {
        const bytes = Buffer.alloc(Math.min(PRINTED, size));
        hash.update(bytes.subarray(0, readSync(handle, bytes, 0, bytes.length, at)));
      }
    } finally {
      closeSync(handle);
    }
  }
  return hash.digest('hex');
}

/** A short text that changes when size, time or inode of any of the files does (FNV-1a, 64 bits in two halves); and their bytes in all. */
export function stampOf(files: readonly string[]): { stamp: string; bytes: number } {
  let [a, b, bytes] = [0x811c9dc5, 0x01000193, 0];
  for (const file of files) {
    const { size, mtimeMs, ino } = statSync(file);
    bytes += size;
    for (const n of [size, mtimeMs, ino]) {
      a = Math.imul(a ^ (n | 0), 0x01000193);
      b = Math.imul(b ^ ((n / 4294967296) | 0) ^ a, 0x811c9dc5);
    }
  }
  return { stamp: (a >>> 0).toString(36) + (b >>> 0).toString(36), bytes };
}
