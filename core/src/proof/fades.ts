import type { Frames } from '../time';
import { type Share, strengthOf } from './mix';
import type { Luma, Mask } from './pictures';

/** Of all strengths around a fade the one, in order, that is taken for a picture seen whole. */
const UNFADED = 0.85;

/** How much of a picture is seen in each frame, 0..1, where all else is black; empty where that cannot be told. */
export function seenOf(
  from: Frames,
  to: Frames,
  reference: (at: Frames) => Luma | null,
  picture: (at: Frames) => Luma | null,
  mask: Mask,
): Map<Frames, Share> {
  const strengths = new Map<Frames, number>();
  for (let at = from; at < to; at++) {
    const [r, s] = [reference(at), picture(at)];
    const strength = r && s && strengthOf(r, s, mask);
    if (strength !== null) strengths.set(at, strength);
  }
  const full = [...strengths.values()].sort((a, b) => a - b)[Math.floor(strengths.size * UNFADED)] ?? 0;
  if (full <= 0) return new Map();
  return new Map([...strengths].map(([at, strength]) => [at, { share: Math.min(1, Math.max(0, strength / full)), weight: 1 }]));
}
