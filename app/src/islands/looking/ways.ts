import type { Shows } from '../viewing/drawing';

/** The ways to hold two pictures against each other. */
export const COMPARE_MODES = ['beside', 'split', 'difference', 'blend', 'swap', 'checker'] as const;
export type CompareMode = (typeof COMPARE_MODES)[number];

export const MODE_WORDS: Record<CompareMode, string> = {
  beside: 'Side by side',
  split: 'Split',
  difference: 'Difference',
  blend: 'Blend',
  swap: 'Swap',
  checker: 'Checker',
};

/** What the screen shows in each way; a swap shows one side, then the other. */
export const showsOf = (mode: CompareMode, front: 'a' | 'b'): Shows => (mode === 'swap' ? front : mode === 'beside' ? 'facing' : mode);
