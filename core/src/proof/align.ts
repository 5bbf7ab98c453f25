import type { Frames } from '../time';
import { correlate } from './fingerprint';

/** How far a slip is looked for, each way. */
export const REACH: Frames = 24;

/** One frame of an event: the reference picture, and which source frame should stand there. */
export interface Sample {
  readonly reference: Float32Array;
  readonly sourceFrame: Frames;
}

/** The score of one offset: mean correlation over the samples for which the source has a frame. */
export interface OffsetScore {
  readonly offset: Frames;
  readonly score: number;
}

/** How an event lies against its source. `scores` go from -REACH to +REACH where frames exist. */
export interface Alignment {
  readonly scores: readonly OffsetScore[];
  readonly best: OffsetScore;
  readonly atZero: number;
  /** Best score minus the better of its two neighbours: how sharply the place is known. */
  readonly sharpness: number;
}

/**
 * Tries every offset within REACH. `source(n)` gives the prepared picture of source frame n, or
 * null where the file has none; an offset counts when at least half the samples have a frame.
 * `direction` is -1 for reversed events: an offset is always what must be added to the source in.
 */
export function align(samples: readonly Sample[], source: (frame: Frames) => Float32Array | null): Alignment | null {
  const scores: OffsetScore[] = [];
  for (let offset = -REACH; offset <= REACH; offset++) {
    let sum = 0;
    let count = 0;
    for (const sample of samples) {
      const picture = source(sample.sourceFrame + offset);
      if (!picture) continue;
      sum += correlate(sample.reference, picture);
      count++;
    }
    if (count > 0 && count * 2 >= samples.length) scores.push({ offset, score: sum / count });
  }
  const best = bestOf(scores);
  if (!best) return null;
  const near = scores.filter((s) => Math.abs(s.offset - best.offset) === 1).map((s) => s.score);
  return {
    scores,
    best,
    atZero: scores.find((s) => s.offset === 0)?.score ?? 0,
    sharpness: near.length > 0 ? best.score - Math.max(...near) : 0,
  };
}

/** The highest score; of equals, the offset nearest to zero. */
function bestOf(scores: readonly OffsetScore[]): OffsetScore | null {
  let best: OffsetScore | null = null;
  for (const s of scores)
    if (!best || s.score > best.score + 1e-9 || (Math.abs(s.score - best.score) <= 1e-9 && Math.abs(s.offset) < Math.abs(best.offset)))
      best = s;
  return best;
}
