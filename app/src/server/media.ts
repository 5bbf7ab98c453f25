import { type MediaThreads, openThreads } from '@gemello/media';

let pool: MediaThreads | null = null;

/** The media threads, started on first use. */
export function mediaThreads(): MediaThreads {
  pool ??= openThreads();
  return pool;
}
