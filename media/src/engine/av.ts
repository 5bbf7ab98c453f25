/** The media engine (FFmpeg in-process), its low-level face only. All calls are made on worker threads. */
import { constants } from 'node:os';
import { AV_LOG_FATAL } from 'node-av/constants';
import { FFmpegError, Log } from 'node-av/lib';
import { DiskFull, MediaError } from '../plain';

Log.setLevel(AV_LOG_FATAL);

/** What FFmpeg gives for ENOSPC, the system's number with its sign turned. */
const NO_SPACE = -constants.errno.ENOSPC;

/** Passes a result through, or throws a MediaError that says what was being done. */
export function must(result: number, doing: string): number {
  if (result === NO_SPACE) throw new DiskFull();
  if (result < 0) throw new MediaError(`${doing}: ${new FFmpegError(result).message}`);
  return result;
}
