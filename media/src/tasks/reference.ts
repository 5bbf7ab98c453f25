import {
  type Bounds,
  type Cutting,
  cutUp,
  type FrameFit,
  type Frames,
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

/** Frames of a movie that its picture is found by, and pictures of it that are held at once. */
const [LOOKED_AT, HELD] = [120, 400];

/** The small pictures of a reference, by its own frames from 0. */
export interface Reference {
  readonly frames: Frames;
  /** The picture between its bars. */
  box(): Bounds;
  /** Its whole frame; null where it has none of that number. */
  native(n: Frames): Uint8Array | null;
  /** Its pictures brought to the frame of a cut, some of them held, since they are looked at more than once. */
  laid(fit: FrameFit): (n: Frames) => Luma | null;
  /** Where it is cut, by what is seen between its bars. */
  cutUp(): Cutting;
  close(): void;
}

/** Opens the small pictures of a reference, making them where they are not kept. It is only read. */
export function openReference(movie: Original, cache: string | null, report: Report, signal: StopSignal): Reference {
  const strip = LumaStrip.of(movie, NATIVE, cache, report, signal);
  const native = (n: Frames) => (n >= 0 && n < strip.frames ? strip.frame(n) : null);
  const box = () => {
    const numbers = Array.from({ length: strip.frames }, (_, n) => n);
    return pictureBox(spread(numbers, LOOKED_AT).map((n) => strip.frame(n)));
  };
  return {
    frames: strip.frames,
    box,
    native,
    laid(fit) {
      const held = new Map<Frames, Luma>();
      return (n) => {
        const known = held.get(n);
        if (known) return known;
        const frame = native(n);
        if (!frame) return null;
        const made = rectified(frame, fit);
        if (held.size > HELD) held.clear();
        held.set(n, made);
        return made;
      };
    },
    cutUp() {
      const { left, top, right, bottom } = box();
      const fit: FrameFit = { left, top, width: right - left, height: bottom - top };
      return cutUp(
        strip.frames,
        (n) => rectified(strip.frame(n), fit),
        wholeMask(),
        (n) => {
          if (n % 48 !== 0) return;
          stopIfAsked(signal);
          report({ done: n, total: strip.frames, what: 'Looking for cuts' });
        },
      );
    },
    close: () => strip.close(),
  };
}
