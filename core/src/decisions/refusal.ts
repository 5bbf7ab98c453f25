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

const WORDS: Record<RefusalCode, string> = {
  'not-paired': 'no original is paired with this event',
  'other-source': 'it speaks of another original than the one that is paired now',
  'source-ends': 'the original has not enough frames',
  overlap: 'another event stands there on the same layer',
  'before-zero': 'it would begin before 00:00:00:00',
  'too-short': 'nothing would be left of the event',
  'no-cut-there': 'no event stands directly before this one',
  'transition-too-long': 'the transition is longer than what stands beside the cut',
  'nothing-to-leave': 'nothing stands directly before this event that could be left',
  'outside-event': 'that frame is not inside the event',
  'not-continuous': 'the two do not follow each other in the same source',
  'no-such-layer': 'the cut has no such layer',
  'no-such-event': 'the cut has no such event',
};

/** Why a decision is not taken, in words that go on a sentence. */
export const refusalText = ({ code }: Pick<Refusal, 'code'>): string => WORDS[code];
