import type { Frames } from '../time';
import { meanOf } from './lines';
import { BETTER, bestRamp, ERROR, misfit, type Ramp, type Share, strengthOf, surenessOf } from './mix';
import { agreement, comparable, type Luma, levelOf, type Mask } from './pictures';
import type { CutPictures } from './sides';
import { toneOf } from './tone';
import type { Finding, Passage } from './verdict';

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

/** Frames by which a fade may miss the cut it belongs to, besides: a temporary grade that darkens swallows so much of its length. */
const [OFF, LATE] = [1, 0.2];
/** The shortest fade that is told where none is listed, and the squares it must take away. */
const SHORTEST: Frames = 3;
const LEAST = 0.5;

/** The ramp by which a picture comes out of black after a cut, or goes into it before; null where it is seen whole up to the cut. */
function fadeAt(shares: ReadonlyMap<Frames, Share>, cut: Frames, missing: (ramp: Ramp) => Frames): (Ramp & { sure: number }) | null {
  if (shares.size < 2 * SHORTEST) return null;
  const none = misfit(shares, { start: cut, frames: 0 });
  const best = bestRamp(shares);
  const gained = shares.size * (none - best.misfit);
  if (best.frames < SHORTEST || missing(best) > OFF + Math.floor(best.frames * LATE)) return null;
  if (gained < BETTER * (best.misfit + ERROR) || gained < LEAST) return null;
  return { ...best, sure: surenessOf(best.misfit, none) };
}

const fade = ({ start, frames, sure }: Ramp & { sure: number }, cut: Frames, black: Pick<Passage, 'from' | 'to'>): Finding => ({
  kind: 'transition-differs',
  expected: null,
  measured: { type: 'dissolve', durationFrames: frames, offsetFrames: start - cut, wipeCode: null, ...black },
  confidence: sure,
});

type PictureAt = (at: Frames) => Luma | null;

/** How much of a picture must be seen while it is held against itself, and how much less alike it may then be. */
const [SEEN, AS_LIKE] = [0.35, 0.7];
/** Frames beside a fade that it is held against. */
const BESIDE: Frames = 6;

/** True where a picture is as like its original while it fades as where it is whole: what shows something else only seems to fade. */
function isLike(seen: ReadonlyMap<Frames, Share>, { start, frames }: Ramp, reference: PictureAt, picture: PictureAt, mask: Mask): boolean {
  const likeness = (at: Frames): number[] => {
    const [r, s] = [reference(at), picture(at)];
    return r && s ? [agreement(comparable(r, mask), comparable(s, mask))] : [];
  };
  const within = (from: Frames, to: Frames) =>
    [...seen].filter(([at, { share }]) => at >= from && at < to && share > SEEN).flatMap(([at]) => likeness(at));
  const beside = [...within(start - BESIDE, start), ...within(start + frames, start + frames + BESIDE)];
  const fading = within(start, start + frames);
  return fading.length === 0 || beside.length === 0 || meanOf(fading) >= AS_LIKE * meanOf(beside);
}

/** An incoming picture that fades in from black where the list has a cut. */
export function fadeIn({ cut, to, until = to, listed, reference, incoming, mask }: CutPictures): Finding | null {
  if (listed) return null;
  const seen = seenOf(cut, until, reference, incoming, mask);
  const found = fadeAt(seen, cut, ({ start }) => start - cut);
  return found && isLike(seen, found, reference, incoming, mask) ? fade(found, cut, { from: 'black' }) : null;
}

/** The part of a side, furthest from the cut, by which the grade is told. */
const AWAY = 4;

type Ending = Pick<CutPictures, 'cut' | 'from' | 'reference' | 'leaving' | 'mask'>;

/** A leaving picture that fades into black where the list has a cut, or nothing follows; `from`: where it is seen whole. */
export function fadeOut(graded: Ending): Finding | null {
  const { cut, from, leaving, mask } = graded;
  const tone = toneOf([{ from, to: from + Math.ceil((cut - from) / AWAY), picture: leaving }], graded.reference, mask);
  const reference = (at: Frames) => {
    const luma = graded.reference(at);
    return luma && tone ? tone(luma) : luma;
  };
  const seen = seenOf(from, cut, reference, leaving, mask);
  const shares = new Map([...seen].map(([at, { share, weight }]) => [at, { share: 1 - share, weight }]));
  const found = fadeAt(shares, cut, ({ start, frames }) => cut - start - frames);
  const [first, last] = [reference(from), reference(cut - 1)];
  // What is covered, or washed out, loses strength too, and does not darken.
  if (!found || !first || !last || levelOf(last, mask).mean >= levelOf(first, mask).mean) return null;
  return isLike(seen, found, reference, leaving, mask) ? fade(found, cut, { to: 'black' }) : null;
}
