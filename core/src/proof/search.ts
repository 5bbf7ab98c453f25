import type { Frames } from '../time';
import type { Sample } from './align';
import { correlate } from './fingerprint';

/**
 * Looks for an event's pictures in clips it was not paired with. Frames of a clip are offered in order,
 * each with its number, for some may be missing; only the correlations are kept, 4 bytes a frame and sample.
 */
export interface PictureSearch {
  offer(prepared: Float32Array, frame: Frames): void;
  /** The best place in the clip just offered, and a fresh start for the next clip. Null when it is too short. */
  finish(): { sourceFrame: Frames; score: number } | null;
}

/** How many pictures of an event are looked for; more cost time and tell little. */
const MOST_SAMPLES = 5;

/** Prepares a search. The result's `sourceFrame` is where the first sample given was found. */
export function searchFor(samples: readonly Sample[]): PictureSearch {
  const step = Math.max(1, Math.floor(samples.length / MOST_SAMPLES));
  const chosen = samples.filter((_, i) => i % step === 0).slice(0, MOST_SAMPLES);
  const origin = chosen[0]?.sourceFrame ?? 0;
  let scores: number[][] = chosen.map(() => []);
  return {
    offer(prepared, frame) {
      chosen.forEach((sample, i) => {
        if (scores[i]) scores[i][frame] = correlate(sample.reference, prepared);
      });
    },
    finish() {
      const frames = scores[0]?.length ?? 0;
      let best: { sourceFrame: Frames; score: number } | null = null;
      for (let first = 0; first < frames; first++) {
        let sum = 0;
        let count = 0;
        chosen.forEach((sample, i) => {
          const value = scores[i]?.[first + sample.sourceFrame - origin];
          if (value === undefined) return;
          sum += value;
          count++;
        });
        if (count === chosen.length && (!best || sum / count > best.score)) best = { sourceFrame: first, score: sum / count };
      }
      scores = chosen.map(() => []);
      return best;
    },
  };
}
