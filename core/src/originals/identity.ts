import type { Original } from './model';

/**
 * The two halves of a stamp, and the stamps of several files of one take: `files~papers`, joined by `+`. What stands
 * beside a clip and speaks of it may change while its pictures stay.
 */
const HALVES = '~';
const TAKES = '+';

/** A stamp of a clip's own files, by what is known of their size, time and inode, and of the papers beside it. */
export const stampFrom = (files: string, papers: string): string => `${files}${HALVES}${papers}`;

/** The stamp of a take that goes over several files. */
export const stampOfTake = (pieces: readonly Pick<Original, 'stamp'>[]): string => pieces.map((p) => p.stamp).join(TAKES);

/**
 * What stands for the files of a clip as the last scan found them: while it is the same, they are the same files with
 * the same pictures; a file that was replaced under its name has another, whatever its size. Short, and no path: a volume
 * that is mounted elsewhere keeps it. A clip of which no stamp is known goes by its path and size.
 */
export function fileMark({ stamp, path, bytes }: Pick<Original, 'stamp' | 'path' | 'bytes'>): string {
  if (stamp === '') return `${path} ${bytes}`;
  return stamp
    .split(TAKES)
    .map((s) => s.split(HALVES)[0])
    .join(TAKES);
}
