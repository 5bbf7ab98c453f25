import type { Pose } from '../edit';
import type { Original } from '../originals';
import type { Frames } from '../time';
import type { Conform } from './compile';
import { type Part, wholePart } from './picture';

/** Where the frame of the cut lies in that of the reference, as shares of the latter; parts of it may lie outside. */
export interface FrameFit {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

export const FILLS_ALL: FrameFit = { left: 0, top: 0, width: 1, height: 1 };

/** From a record frame on, the reference runs `by` frames later (it doubled some) or earlier (it lost some) than the cut. */
export interface Step {
  readonly from: Frames;
  readonly by: Frames;
}

/** How far the reference runs aside at a record frame. */
export function asideAt(steps: readonly Step[], record: Frames): Frames {
  let by = 0;
  for (const step of steps) {
    if (step.from > record) break;
    by = step.by;
  }
  return by;
}

/** How a reference lies against a cut. */
export interface ReferenceLay {
  /** Record frame at which the reference begins: its own first frame, a slate or leader included. */
  readonly start: Frames;
  /** Where in it the picture is; null where nobody has found out. */
  readonly fit: FrameFit | null;
  /** Where it lost or doubled frames, in record order; absent where it keeps pace, or nobody has looked. */
  readonly steps?: readonly Step[];
}

/**
 * Where a reference is taken to lie before a proof has found it: by its timecode where that covers the cut's start, else with the cut;
 * its picture where a person said that it is.
 */
export function laidByTimecode(reference: Original, { span, referenceFit: part }: Pick<Conform, 'span' | 'referenceFit'>): ReferenceLay {
  const covers = reference.hasTimecode && reference.start <= span.in && span.in < reference.start + reference.frames;
  const fit = part && { left: part.left, top: part.top, width: part.right - part.left, height: part.bottom - part.top };
  return { start: covers ? reference.start : span.in, fit };
}

/**
 * The reference's picture at a record frame, laid so that it covers what the cut's frame shows; null where it has none. A reference
 * whose picture fills the middle half (`fit` 0.25, 0.25, 0.5, 0.5) is drawn twice as large.
 */
export function referencePart(reference: Original, { start, fit, steps = [] }: ReferenceLay, record: Frames): Part | null {
  const n = record - start + asideAt(steps, record);
  if (n < 0 || n >= reference.frames) return null;
  const whole = wholePart(reference, n);
  if (!fit) return whole;
  const pose: Pose = {
    ...whole.pose,
    scaleX: 1 / fit.width,
    scaleY: 1 / fit.height,
    x: (0.5 - fit.left) / fit.width - 0.5,
    y: (0.5 - fit.top) / fit.height - 0.5,
  };
  return { ...whole, shot: { ...whole.shot, fit: 'stretch' }, pose };
}
