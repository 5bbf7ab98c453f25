import type { Refusal, RefusalCode } from './refusal';

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
