/** A file that could not be read or written, in words for the person at the desk. */
export class MediaError extends Error {
  override readonly name = 'MediaError';
}

/** By its name: the command line has a copy of this of its own. */
export const isMediaError = (error: unknown): error is MediaError => error instanceof Error && error.name === 'MediaError';

/** The disk that is written to has no room left. What was finished is kept, and the work can go on once there is room. */
export class DiskFull extends MediaError {
  constructor() {
    super('The disk that is written to is full. Make room on it, then go on; what was finished is kept.');
  }
}

/** A fault of one file, that leaves all others to be done. Faults of the system about a file count, a full disk does not. */
export const isFaultOfFile = (error: unknown): error is Error =>
  error instanceof Error && !isDiskFull(error) && (error instanceof MediaError || 'syscall' in error);

/** True where there is no room left to write to (ENOSPC, and EDQUOT where a share of the disk is used up). */
export const isDiskFull = (error: unknown): boolean =>
  error instanceof DiskFull || (error instanceof Error && 'code' in error && (error.code === 'ENOSPC' || error.code === 'EDQUOT'));
