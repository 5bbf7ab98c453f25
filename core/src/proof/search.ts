import type { Frames } from '../time';
import { agreement } from './pictures';

/** A picture of the reference, coarse, and the source frame that the list puts there. */
export interface SoughtPicture {
  readonly picture: Float32Array;
  readonly sourceFrame: Frames;
}

/** A place at which an event's pictures may lie: where the first of them is, in frames of the clip. */
export interface Spot {
  readonly sourceFrame: Frames;
  readonly score: number;
}

/**
 * Looks for an event's pictures in clips it was not paired with. `pictures` are all coarse pictures of one clip, in order,
 * null where a frame is missing. The best places, best first, each the best of its neighbourhood.
 */
export function placesIn(sought: readonly SoughtPicture[], pictures: readonly (Float32Array | null)[], most = 2): Spot[] {
  const origin = sought[0]?.sourceFrame ?? 0;
  const scores: number[] = [];
  for (let first = 0; first < pictures.length; first++) {
    let [sum, count] = [0, 0];
    for (const { picture, sourceFrame } of sought) {
      const there = pictures[first + sourceFrame - origin];
      if (!there) continue;
      sum += agreement(picture, there);
      count++;
    }
    scores.push(count === sought.length ? sum / count : -1);
  }
  return scores
    .map((score, sourceFrame) => ({ sourceFrame, score }))
    .filter(({ score, sourceFrame: n }) => score > -1 && score >= (scores[n - 1] ?? -1) && score >= (scores[n + 1] ?? -1))
    .sort((a, b) => b.score - a.score)
    .slice(0, most);
}
