import { readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { lstat, readdir, rm } from 'node:fs/promises';
import path from 'node:path';

/** How what is being written is called until it is whole, before its own name: nothing else is called so, and a scan passes over what begins with a dot. */
export const HALF = '.half-';

const besideOf = (target: string): string => path.join(path.dirname(target), HALF + path.basename(target));

/** Where a file, or a folder of frames, is written until it is whole: beside itself. */
export function halfOf(target: string): string {
  const half = besideOf(target);
  // Frames of an earlier try are not counted with those of this one.
  if (isFolder(half)) rmSync(half, { recursive: true });
  return half;
}

/** Gives what is whole its name; what had it is replaced. */
export function becomeWhole(half: string, target: string): void {
  if (isFolder(half)) rmSync(target, { recursive: true, force: true });
  renameSync(half, target);
}

/** Removes a half that will not become whole. That a disk does not let it go is no fault beside the one before it: `clearHalves` does it later. */
export function dropHalf(half: string): void {
  try {
    rmSync(half, { recursive: true, force: true });
  } catch {}
}

/** Bytes of a file, or a folder of frames, that are written already: as many as are reckoned for it once it is whole. */
export function writtenOf(target: string, reckoned: number): number {
  if (statSync(target, { throwIfNoEntry: false })) return reckoned;
  const half = besideOf(target);
  const parts = isFolder(half) ? readdirSync(half).map((name) => path.join(half, name)) : [half];
  return Math.min(
    reckoned,
    parts.reduce((sum, part) => sum + (statSync(part, { throwIfNoEntry: false })?.size ?? 0), 0),
  );
}

/** Writes what appears under its name only when it is whole; `write` is given where to write it. */
export function whole<T>(target: string, write: (half: string) => T): T {
  const half = halfOf(target);
  try {
    const made = write(half);
    becomeWhole(half, target);
    return made;
  } catch (error) {
    dropHalf(half);
    throw error;
  }
}

/**
 * Removes the halves in a folder and below it that were written to before a moment, in milliseconds since 1970, all of them where none is given:
 * nobody is to be writing those any longer. A folder that is not there has none; other faults of the system are thrown.
 */
export async function clearHalves(folder: string, before = Number.POSITIVE_INFINITY): Promise<void> {
  const entries = await readdir(folder, { withFileTypes: true }).catch((error) => {
    if (error.code === 'ENOENT') return [];
    throw error;
  });
  for (const entry of entries) {
    const place = path.join(folder, entry.name);
    if (!entry.name.startsWith(HALF)) {
      if (entry.isDirectory()) await clearHalves(place, before);
    } else if ((await lstat(place)).mtimeMs < before) await rm(place, { recursive: true, force: true });
  }
}

const isFolder = (place: string): boolean => statSync(place, { throwIfNoEntry: false })?.isDirectory() === true;
