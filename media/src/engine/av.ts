/** The media engine (FFmpeg in-process), its low-level face only. All calls are made on worker threads. */
import { constants } from 'node:os';
import { AV_LOG_FATAL } from 'node-av/constants';
import { FFmpegError, Log } from 'node-av/lib';
import { DiskRefuses, MediaError, type Refusal } from '../plain';

Log.setLevel(AV_LOG_FATAL);

/** What FFmpeg gives where the disk takes nothing: the system's numbers with their signs turned. */
const REFUSED = new Map<number, Refusal>([
  [-constants.errno.ENOSPC, 'full'],
  [-constants.errno.EROFS, 'read-only'],
]);

/** Passes a result through, or throws a MediaError that says what was being done. */
export function must(result: number, doing: string): number {
  const refusal = REFUSED.get(result);
  if (refusal) throw new DiskRefuses(refusal);
  if (result < 0) throw new MediaError(`${doing}: ${new FFmpegError(result).message}`);
  return result;
}
