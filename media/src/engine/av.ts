/** The media engine (FFmpeg in-process), its low-level face only. All calls are made on worker threads. */
import { AV_LOG_FATAL } from 'node-av/constants';
import { FFmpegError, Log } from 'node-av/lib';

Log.setLevel(AV_LOG_FATAL);

/** A file that could not be read or written, in words for the person at the desk. */
export class MediaError extends Error {
  override readonly name = 'MediaError';
}

/** Passes a result through, or throws a MediaError that says what was being done. */
export function must(result: number, doing: string): number {
  if (result < 0) throw new MediaError(`${doing}: ${new FFmpegError(result).message}`);
  return result;
}
