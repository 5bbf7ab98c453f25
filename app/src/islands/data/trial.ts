import type { Decision } from '@gemello/core';
import type { Grip, Tried } from '@gemello/core/lanes';
import { create } from 'zustand';

/** Something that is tried: seen on screen as it would be, and not decided yet. */
export interface Trial {
  readonly decisions: readonly Decision[];
  /** Record frames that show it best, left and right, and what they are; null: the playhead on both sides. */
  readonly sight: { readonly frames: readonly [number, number]; readonly says: readonly [string, string] } | null;
  /** What lanes draw of it; null where it was not made there. */
  readonly moved: { readonly grip: Grip; readonly keys: readonly string[]; readonly wished: number; readonly tried: Tried } | null;
}

interface TrialState {
  readonly trial: Trial | null;
  /** True from when it is decided until the cut is there as decided. */
  readonly kept: boolean;
  /** What the arrow keys move. */
  readonly arrows: Grip | 'playhead';
  attempt(trial: Trial | null): void;
  keep(): void;
  steer(arrows: Grip | 'playhead'): void;
}

/** What is tried now; it is dropped, or decided. */
export const useTrial = create<TrialState>((set) => ({
  trial: null,
  kept: false,
  arrows: 'playhead',
  attempt: (trial) => set({ trial, kept: false }),
  keep: () => set({ kept: true }),
  steer: (arrows) => set((s) => ({ arrows, trial: s.kept ? s.trial : null })),
}));
