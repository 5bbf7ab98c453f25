import {
  type Bounds,
  type Cutting,
  cutUp,
  type FrameFit,
  type Luma,
  NATIVE,
  type Original,
  pictureBox,
  rectified,
  spread,
  wholeMask,
} from '@gemello/core';
import { LumaStrip } from '../strip';
import { type Report, type StopSignal, stopIfAsked } from './task';

export interface CutsPayload {
  readonly movie: Original;
  /** Folder for small pictures, kept between looks; null keeps them in memory. */
  readonly cache: string | null;
}

/** Frames of a movie that its picture is found by. */
const LOOKED_AT = 120;

/** The small pictures of a movie, what is seen between its bars filling them. */
export interface Seen {
  readonly frames: number;
  readonly box: Bounds;
  picture(n: number): Luma;
  close(): void;
}

/** Opens the small pictures of a movie as they are seen by themselves, whatever cut it belongs to. */
export function openSeen({ movie, cache }: CutsPayload, report: Report, signal: StopSignal): Seen {
  const strip = LumaStrip.of(movie, NATIVE, cache, report, signal);
  const numbers = Array.from({ length: strip.frames }, (_, n) => n);
  const box = pictureBox(spread(numbers, LOOKED_AT).map((n) => strip.frame(n)));
  const fit: FrameFit = { left: box.left, top: box.top, width: box.right - box.left, height: box.bottom - box.top };
  return { frames: strip.frames, box, picture: (n) => rectified(strip.frame(n), fit), close: () => strip.close() };
}

/** Finds the cuts, dissolves and fades of a movie, which is only read. */
export function findCuts(payload: CutsPayload, report: Report, signal: StopSignal): Cutting {
  const seen = openSeen(payload, report, signal);
  try {
    const cutting = cutUp(seen.frames, seen.picture, wholeMask(), (n) => {
      if (n % 48 !== 0) return;
      stopIfAsked(signal);
      report({ done: n, total: seen.frames, what: 'Looking for cuts' });
    });
    report({ done: seen.frames, total: seen.frames, what: '' });
    return cutting;
  } finally {
    seen.close();
  }
}
