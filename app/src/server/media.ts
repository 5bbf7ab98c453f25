import { type MediaPool, openPool } from '@gemello/media';

let pool: MediaPool | null = null;

/** The media threads, started on first use. */
export function mediaPool(): MediaPool {
  pool ??= openPool();
  return pool;
}
