import type { Frames } from '../time';

/** Why a decision cannot be taken as it is. */
export type RefusalCode =
  | 'not-paired'
  | 'other-source'
  | 'source-ends'
  | 'overlap'
  | 'before-zero'
  | 'too-short'
  | 'no-cut-there'
  | 'transition-too-long'
  | 'nothing-to-leave'
  | 'outside-event'
  | 'not-continuous'
  | 'no-such-layer'
  | 'no-such-event';

/** A decision that is not taken, and the nearest that could be: its own fields with other values; null where there is none. */
export interface Refusal {
  readonly code: RefusalCode;
  readonly nearest: Readonly<Record<string, unknown>> | null;
}

export const refuse = (code: RefusalCode, nearest: Refusal['nearest'] = null): Refusal => ({ code, nearest });

/**
 * The number of frames nearest to `wanted`, between 0 and it, that `reason` has nothing against; null where that is 0.
 * What holds for a number must hold for all between it and 0.
 */
export function nearestFrames(wanted: Frames, reason: (frames: Frames) => RefusalCode | null): Frames | null {
  let [good, bad] = [0, Math.abs(wanted)];
  const sign = Math.sign(wanted);
  while (bad - good > 1) {
    const middle = (good + bad) >> 1;
    if (reason(sign * middle) === null) good = middle;
    else bad = middle;
  }
  return good === 0 ? null : sign * good;
}
