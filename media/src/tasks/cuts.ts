import type { Cutting, Original } from '@gemello/core';
import { openReference } from './reference';
import type { Report, StopSignal } from './task';

export interface CutsPayload {
  readonly movie: Original;
  /** Folder for small pictures, kept between looks; null keeps them in memory. */
  readonly cache: string | null;
}

/** Finds the cuts, dissolves and fades of a movie, which is only read. */
export function findCuts({ movie, cache }: CutsPayload, report: Report, signal: StopSignal): Cutting {
  const opened = openReference(movie, cache, report, signal);
  try {
    const cutting = opened.cutUp();
    report({ done: opened.frames, total: opened.frames, what: '' });
    return cutting;
  } finally {
    opened.close();
  }
}
