import { neededFrames, type Shot } from '../conform';
import type { Frames } from '../time';

/** Frames of the original that are left before the first and after the last that an event and its transitions show; below zero: missing. */
export interface SourceLeft {
  readonly before: Frames;
  readonly after: Frames;
}

/** How far an event may be slipped or made longer; null where it has no original, or one that gives any number of frames. */
export function sourceLeft(shot: Shot): SourceLeft | null {
  if (!shot.original || shot.original.kind === 'still') return null;
  const needed = neededFrames(shot, 0);
  return needed && { before: needed.wanted.in, after: shot.original.frames - needed.wanted.out };
}
