import { LANES, type MediaThreads, openThreads } from '@gemello/media';

let pool: MediaThreads | null = null;

/** The media threads, those of both lanes started on first use. */
export function mediaThreads(): MediaThreads {
  pool ??= openThreads(LANES);
  return pool;
}

/** A text of so many bytes takes about 50 ms to read: larger ones are read on a thread, so that the server answers meanwhile. */
export const LARGE_TEXT = 200_000;
