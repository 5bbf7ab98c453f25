import type { Frames } from '../time';
import { fadeIn, seenOf } from './fades';
import { BETTER, bestRamp, ERROR, misfit, type Ramp, relief, type Share, shareOf, surenessOf } from './mix';
import { agreement, comparable, type Luma, type Mask } from './pictures';
import type { CutPictures } from './sides';
import { toneOf } from './tone';
import type { Finding, Passage } from './verdict';
import {
  gradingOf,
  isClearlyOf,
  meanShares,
  misfitOf,
  type PartShares,
  type Pattern,
  patternAround,
  patternOf,
  sharesByPart,
  type ToldPattern,
  toldPattern,
} from './wipes';

/** How much a side must agree to be seen, where the other has no frame. */
const SEEN = 0.35;

function shareIn(p: CutPictures, at: Frames): Share | null {
  const reference = p.reference(at);
  if (!reference) return null;
  const [a, b] = [p.leaving(at), p.incoming(at)];
  if (a !== null && b !== null) {
    const share = shareOf(reference, a, b, p.mask);
    return share.weight > 0 || p.listed ? share : plainlyOne(reference, a, b, p.mask);
  }
  const only = a ?? b;
  // One side alone tells a cut, and nothing of a mix.
  if (p.listed || only === null) return null;
  const seen = agreement(comparable(reference, p.mask), comparable(only, p.mask)) > SEEN;
  return { share: seen === (b !== null) ? 1 : 0, weight: 0.5 };
}

/** Which of the sides a frame shows that noise leaves too little of to be taken apart; nothing where both may be in it. */
function plainlyOne(reference: Luma, leaving: Luma, incoming: Luma, mask: Mask): Share | null {
  const seen = comparable(reference, mask);
  const [a, b] = [agreement(seen, comparable(leaving, mask)), agreement(seen, comparable(incoming, mask))];
  if (Math.max(a, b) < SEEN || Math.min(a, b) > OTHER * Math.max(a, b)) return null;
  return { share: b > a ? 1 : 0, weight: 0.5 };
}

/** Of what the side that is seen agrees, no more than this share may be said of the other. */
const OTHER = 0.4;

/** Frames by which a ramp may be off and still be the listed one. */
const [LENGTH_OFF, START_OFF] = [1, 1];
/** Root mean square of what stands out of a picture, in code values, below which it is faint; and how much of a transition may be swallowed then. */
const [FAINT, SWALLOWED] = [10, 0.4];

function isFaint({ cut, black, leaving, incoming, mask }: CutPictures): boolean {
  const strength = (luma: Luma | null) => {
    if (!luma) return Number.POSITIVE_INFINITY;
    const values = relief(luma, mask);
    return Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length);
  };
  const sides = [...(black === 'leaving' ? [] : [leaving(cut - 1)]), ...(black === 'incoming' ? [] : [incoming(cut + 1)])];
  return Math.min(...sides.map(strength)) < FAINT;
}

/** What is seen of both sides in each frame that tells them apart. */
function sharesOf(p: CutPictures): Map<Frames, Share> {
  if (p.black === 'leaving') return seenOf(p.from, p.to, p.reference, p.incoming, p.mask);
  if (p.black === 'incoming') {
    const leaving = seenOf(p.from, p.to, p.reference, p.leaving, p.mask);
    return new Map([...leaving].map(([at, { share, weight }]) => [at, { share: 1 - share, weight }]));
  }
  const shares = new Map<Frames, Share>();
  for (let at = p.from; at < p.to; at++) {
    const share = shareIn(p, at);
    if (share && share.weight > 0) shares.set(at, share);
  }
  return shares;
}

/** The part of either side, furthest from the cut, by which the grade is told. */
const AWAY = 4;

/** Both sides, and the reference without its temporary grade, by which a mix is no longer linear. */
function ungraded(p: CutPictures): CutPictures {
  const until = p.until ?? p.to;
  // Away from the cut, where neither is mixed with anything: half a fade is as like its picture as all of it.
  const sides = [
    ...(p.black === 'leaving' || p.first ? [] : [{ from: p.from, to: p.from + Math.ceil((p.cut - p.from) / AWAY), picture: p.leaving }]),
    ...(p.black === 'incoming' ? [] : [{ from: until - Math.ceil((until - p.cut) / AWAY), to: until, picture: p.incoming }]),
  ];
  const tone = toneOf(sides, p.reference, p.mask);
  if (!tone) return p;
  const known = new Map<Frames, Luma | null>();
  return {
    ...p,
    reference(at) {
      const before = known.get(at);
      if (before !== undefined) return before;
      const luma = p.reference(at);
      const made = luma && tone(luma);
      known.set(at, made);
      return made;
    },
  };
}

/** So many frames must tell the sides apart. */
const FEWEST = 4;
/** So much of a listed transition must be told. */
const MOSTLY = 0.7;

/** Tells whether a cut or transition lies elsewhere in the reference, or runs otherwise; null where it is as listed, or cannot be told. */
export function cutFinding(graded: CutPictures): Finding | null {
  const p = ungraded(graded);
  const shares = sharesOf(p);
  if (shares.size < FEWEST) return null;
  const listed: Ramp = { start: p.cut + (p.listed?.offsetFrames ?? 0), frames: p.listed?.durationFrames ?? 0 };
  let seen = 0;
  for (let at = listed.start; at < listed.start + listed.frames; at++) if (shares.has(at)) seen++;
  const best = bestRamp(shares);
  const whole = seen < listed.frames * MOSTLY ? null : wholeFinding(p, shares, listed, best);
  if (p.black) return whole;
  const parts = partsBetween(p, shares, listed);
  if (parts.size < SHORTEST_WIPE || (best.frames <= 1 && whole?.kind === 'transition-differs')) return whole ?? fadeIn(p);
  return patternFinding(p, parts, listed, whole);
}

/** Frames on which both sides are seen, at the least, for a wipe. */
const SHORTEST_WIPE: Frames = 3;
/** Shares beside which only one side is seen. */
const [NONE, ALL] = [0.04, 0.96];
/** Frames on either side that are looked at part by part besides. */
const BESIDE: Frames = 3;

/** The parts of all frames that are neither the one side nor the other, of those beside, and of a listed transition; none where all are. */
function partsBetween(p: CutPictures, shares: ReadonlyMap<Frames, Share>, listed: Ramp): Map<Frames, PartShares> {
  const isBetween = (at: Frames) => {
    const share = shares.get(at)?.share;
    return share === undefined || (share > NONE && share < ALL);
  };
  let [from, to] = [p.to, p.from];
  for (let at = p.from; at < p.to; at++) {
    if (!isBetween(at) && !(at >= listed.start && at < listed.start + listed.frames)) continue;
    from = Math.min(from, at);
    to = at;
  }
  const parts = new Map<Frames, PartShares>();
  if (to - from + 1 < SHORTEST_WIPE) return parts;
  const [first, last] = [Math.max(p.from, from - BESIDE), Math.min(p.to - 1, to + BESIDE)];
  const whole = [
    { reference: p.reference(first), picture: p.leaving(first) },
    { reference: p.reference(last), picture: p.incoming(last) },
  ];
  const grading = gradingOf(
    whole.flatMap(({ reference, picture }) => (reference && picture ? [{ reference, picture }] : [])),
    p.mask,
  );
  for (let at = first; at <= last; at++) {
    const [reference, a, b] = [p.reference(at), p.leaving(at), p.incoming(at)];
    if (reference && a && b) parts.set(at, sharesByPart(reference, a, b, p.mask, grading));
  }
  return parts;
}

/** What the picture as a whole says of a cut or a transition: where it lies, and how long it is. */
function wholeFinding(p: CutPictures, shares: ReadonlyMap<Frames, Share>, listed: Ramp, best: ReturnType<typeof bestRamp>): Finding | null {
  const weight = [...shares.values()].reduce((sum, s) => sum + s.weight, 0);
  const gained = weight * (misfit(shares, listed) - best.misfit);
  if (gained < BETTER * (best.misfit + ERROR) || gained < LEAST_GAIN) return null;
  const confidence = Math.round(100 * (1 - Math.exp(-gained / (BETTER * (best.misfit + ERROR))))) / 100;
  const isCut = best.frames <= 1;
  if (!p.listed && isCut) {
    const frames = best.start + (best.frames === 1 ? 1 : 0) - p.cut;
    return frames === 0 ? null : { kind: 'cut-moved', edge: 'in', frames, confidence };
  }
  const moved = movedFrom(p, listed, best);
  if (moved !== null) return moved === 0 ? null : { kind: 'cut-moved', edge: 'in', frames: moved, confidence };
  return isCut
    ? { kind: 'transition-differs', expected: p.listed, measured: null, confidence }
    : differs(p, { pattern: null, ramp: best }, confidence);
}

/** By how many frames a transition of the listed length lies elsewhere; null where its length is another. */
function movedFrom(p: CutPictures, listed: Ramp, best: Ramp): Frames | null {
  // Of a side that is faint, compression swallows the frames on which little of it is seen: it seems to come later, or go sooner.
  const swallowed = isFaint(p) ? Math.ceil(listed.frames * SWALLOWED) : 0;
  if (Math.abs(best.frames - listed.frames) > LENGTH_OFF + swallowed) return null;
  return Math.abs(best.start - listed.start) <= START_OFF + swallowed ? 0 : best.start - listed.start;
}

/** What the parts of the frame say of a transition: whether it is of the listed kind and pattern. `whole` stands where they add nothing. */
function patternFinding(p: CutPictures, parts: ReadonlyMap<Frames, PartShares>, listed: Ramp, whole: Finding | null): Finding | null {
  const runs = bestRamp(meanShares(parts));
  const ramp = runs.frames > 1 ? runs : listed;
  const told = toldPattern(parts, ramp);
  if (!p.listed && told.pattern === null) return whole ?? fadeIn(p);
  const wanted = listedPattern(p.listed);
  if (wanted === 'unknown') return told.pattern ? null : whole;
  const asWanted = patternAround(parts, ramp, wanted);
  if (!isClearlyOf(told, asWanted)) {
    // The picture as a whole measures dissolves; a wipe is measured by its edge.
    if (wanted === null || told.pattern === null) return whole;
    const moved = movedFrom(p, listed, asWanted.ramp);
    const asListed = misfitOf(parts, listed, wanted);
    const gained = asListed - asWanted.misfit;
    if (moved === 0 || gained < LEAST_GAIN || gained < BETTER * (asWanted.misfit / parts.size + ERROR)) return null;
    const confidence = surenessOf(asWanted.misfit, asListed);
    return moved === null ? differs(p, asWanted, confidence) : { kind: 'cut-moved', edge: 'in', frames: moved, confidence };
  }
  return differs(p, told, surenessOf(told.misfit, asWanted.misfit));
}

/** The pattern that the list asks for; null for a dissolve, and unknown where it is none that is drawn. */
function listedPattern(listed: Passage | null): Pattern | null | 'unknown' {
  if (listed?.type !== 'wipe') return null;
  return patternOf(listed.wipeCode, listed.reverse ?? false) ?? 'unknown';
}

function differs(p: CutPictures, { pattern, ramp }: Pick<ToldPattern, 'pattern' | 'ramp'>, confidence: number): Finding {
  const measured: Passage = {
    type: pattern ? 'wipe' : 'dissolve',
    durationFrames: ramp.frames,
    offsetFrames: ramp.start - p.cut,
    wipeCode: pattern?.code ?? null,
    ...(pattern?.reverse ? { reverse: true } : {}),
    ...(p.first ? { from: 'black' as const } : {}),
  };
  return { kind: 'transition-differs', expected: p.listed, measured, confidence };
}

/** The squares that a finding must take away at least: three quarters of one frame that shows the other side. */
const LEAST_GAIN = 0.12;
