import { sizeText } from '@gemello/core';

/** A file that could not be read or written, in words for the person at the desk. */
export class MediaError extends Error {
  override readonly name = 'MediaError';
}

/** By its name: the command line has a copy of this of its own. */
export const isMediaError = (error: unknown): error is MediaError => error instanceof Error && error.name === 'MediaError';

/** Why a disk takes nothing that is written. */
export type Refusal = 'full' | 'read-only';

const TOLD: Record<Refusal, (needed: string) => string> = {
  full: (needed) => `The disk that is written to is full. Make room on it${needed}, then go on; what was finished is kept.`,
  'read-only': () => 'The disk that is written to can only be read. See that it can be written to, then go on; what was finished is kept.',
};

/**
 * The disk that is written to takes nothing more. What was finished is kept, and the work can go on once it does. `needed`: about how many
 * bytes are still to be written, where that is known.
 */
export class DiskRefuses extends MediaError {
  constructor(
    readonly why: Refusal,
    readonly needed: number | null = null,
  ) {
    super(TOLD[why](needed === null ? '' : `, about ${sizeText(needed)} for what is left`));
  }
}

/** A fault of one file, that leaves all others to be done. Faults of the system about a file count; that a disk takes nothing is no fault of a file. */
export const isFaultOfFile = (error: unknown): error is Error =>
  error instanceof Error && !refused(error) && (error instanceof MediaError || 'syscall' in error);

/** The system's codes: ENOSPC, and EDQUOT where a share of the disk is used up; EROFS, which only writing meets. */
const CODES: Record<string, Refusal> = { ENOSPC: 'full', EDQUOT: 'full', EROFS: 'read-only' };

/** What an error says of the disk, where that takes nothing; null else. */
export function refused(error: unknown): DiskRefuses | null {
  if (error instanceof DiskRefuses) return error;
  const why = error instanceof Error && 'code' in error && CODES[String(error.code)];
  return why ? new DiskRefuses(why) : null;
}
