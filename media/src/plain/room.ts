import { type StatsFs, statfsSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { sizeText } from '@gemello/core';
import { DiskRefuses, MediaError, refused } from './faults';

/** What those who have no privileges may still write, in bytes (statvfs: f_bavail blocks of f_frsize). */
const free = ({ bavail, bsize }: StatsFs): number => bavail * bsize;

/** Room left on the disk that a folder lies on, in bytes. */
export const roomOn = async (folder: string): Promise<number> => free(await statfs(folder));

/** Work that writes much: as the sentence about it begins, and what else would help where a disk has no room for it. */
export interface MuchWritten {
  readonly what: string;
  readonly instead: string;
}

/** Throws a MediaError that names both figures where a disk has less room than work is reckoned to take; in bytes. */
export function mustHaveRoom({ what, instead }: MuchWritten, needed: number, room: number): void {
  if (needed <= room) return;
  throw new MediaError(
    `${what} will take about ${sizeText(needed)}, and the disk has ${sizeText(room)} left. Make room on it, or ${instead}.`,
  );
}

/**
 * Does long work that writes into a folder, on a thread. It is not begun where the disk has no room for what `left` gives, in bytes: what is
 * still to be written. Where the disk is full before it ends, `left` is asked again, and DiskRefuses says it.
 */
export function withRoom<T>(folder: string, work: MuchWritten, left: () => number, write: () => T): T {
  mustHaveRoom(work, left(), free(statfsSync(folder)));
  try {
    return write();
  } catch (error) {
    throw refused(error)?.why === 'full' ? new DiskRefuses('full', left()) : error;
  }
}
