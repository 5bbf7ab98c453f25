import type { Frames } from '../time';
import { bestRamp, misfit, type Ramp, relief, type Share, shareOf } from './mix';
import { agreement, comparable, type Luma, type Mask } from './pictures';
import type { Finding, Passage } from './verdict';

/** Both sides of a cut, and what the reference shows around it. Frames count on the record. */
export interface CutPictures {
  /** Record in of the incoming event. */
  readonly cut: Frames;
  /** What is looked at: from the middle of what leaves to the middle of what comes in. */
  readonly from: Frames;
  readonly to: Frames;
  reference(at: Frames): Luma | null;
  /** The picture of a side as it would stand there; null where its original has none. */
  leaving(at: Frames): Luma | null;
  incoming(at: Frames): Luma | null;
  readonly listed: Passage | null;
  readonly mask: Mask;
}

/** How much a side must agree to be seen, where the other has no frame. */
const SEEN = 0.35;

function shareIn(p: CutPictures, at: Frames): Share | null {
  const reference = p.reference(at);
  if (!reference) return null;
  const [a, b] = [p.leaving(at), p.incoming(at)];
  if (a !== null && b !== null) return shareOf(reference, a, b, p.mask);
  const only = a ?? b;
  // One side alone tells a cut, and nothing of a mix.
  if (p.listed || only === null) return null;
  const seen = agreement(comparable(reference, p.mask), comparable(only, p.mask)) > SEEN;
  return { share: seen === (b !== null) ? 1 : 0, weight: 0.5 };
}

/** How much better another place or length must fit: the squares it takes away, over those that are left in a frame. */
const BETTER = 14;
const ERROR = 0.002;
/** Frames by which a ramp may be off and still be the listed one. */
const [LENGTH_OFF, START_OFF] = [1, 1];
/** Root mean square of what stands out of a picture, in code values, below which it is faint; and how much of a transition may be swallowed then. */
const [FAINT, SWALLOWED] = [10, 0.4];

function isFaint({ cut, leaving, incoming, mask }: CutPictures): boolean {
  const strength = (luma: Luma | null) => {
    if (!luma) return Number.POSITIVE_INFINITY;
    const values = relief(luma, mask);
    return Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length);
  };
  return Math.min(strength(leaving(cut - 1)), strength(incoming(cut + 1))) < FAINT;
}

/** So many frames must tell the sides apart. */
const FEWEST = 4;
/** So much of a listed transition must be told. */
const MOSTLY = 0.7;

/** Tells whether a cut or transition lies elsewhere in the reference, or runs otherwise; null where it is as listed, or cannot be told. */
export function cutFinding(p: CutPictures): Finding | null {
  const shares = new Map<Frames, Share>();
  for (let at = p.from; at < p.to; at++) {
    const share = shareIn(p, at);
    if (share && share.weight > 0) shares.set(at, share);
  }
  if (shares.size < FEWEST) return null;
  const listed: Ramp = { start: p.cut + (p.listed?.offsetFrames ?? 0), frames: p.listed?.durationFrames ?? 0 };
  let seen = 0;
  for (let at = listed.start; at < listed.start + listed.frames; at++) if (shares.has(at)) seen++;
  if (seen < listed.frames * MOSTLY) return null;
  const best = bestRamp(shares);
  const weight = [...shares.values()].reduce((sum, s) => sum + s.weight, 0);
  const gained = weight * (misfit(shares, listed) - best.misfit);
  if (gained < BETTER * (best.misfit + ERROR) || gained < LEAST_GAIN) return null;
  const confidence = Math.round(100 * (1 - Math.exp(-gained / (BETTER * (best.misfit + ERROR))))) / 100;
  const isCut = best.frames <= 1;
  if (!p.listed && isCut) {
    const frames = best.start + (best.frames === 1 ? 1 : 0) - p.cut;
    return frames === 0 ? null : { kind: 'cut-moved', edge: 'in', frames, confidence };
  }
  // Of a side that is faint, compression swallows the frames on which little of it is seen: it seems to come later, or go sooner.
  const swallowed = isFaint(p) ? Math.ceil(listed.frames * SWALLOWED) : 0;
  const sameLength = Math.abs(best.frames - listed.frames) <= LENGTH_OFF + swallowed;
  if (sameLength && Math.abs(best.start - listed.start) <= START_OFF + swallowed) return null;
  if (sameLength) return { kind: 'cut-moved', edge: 'in', frames: best.start - listed.start, confidence };
  const measured: Passage | null = isCut
    ? null
    : { type: 'dissolve', durationFrames: best.frames, offsetFrames: best.start - p.cut, wipeCode: null };
  return { kind: 'transition-differs', expected: p.listed, measured, confidence };
}

/** The squares that a finding must take away at least: three quarters of one frame that shows the other side. */
const LEAST_GAIN = 0.12;
