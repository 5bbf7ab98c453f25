import {
  agreement,
  type Conform,
  cannotTell,
  comparable,
  coverageOf,
  type EventProof,
  FOUND,
  type Frames,
  GRID,
  GRID_SIZE,
  isClearly,
  isTitle,
  meanOf,
  newPicture,
  pictureAt,
  type Shot,
  spread,
  surerBy,
} from '@gemello/core';
import type { Against } from './against';

/** Frames that tell a shot which is only ever seen mixed with another, and slips that are tried, each way. */
const [TOLD, WIDEST]: readonly [number, Frames] = [16, 24];
/** Certainty (`surerBy`) below which two slips look alike. */
const ALIKE = 3;

/** The record frames at which a shot is part of the picture, covered or not. */
function standingFrames(conform: Conform, { event, tail }: Shot): Frames[] {
  const from = event.record.in - (event.transitionIn?.before ?? 0);
  const end = event.record.out + tail;
  return Array.from({ length: Math.max(0, end - from) }, (_, i) => from + i).filter((n) => n >= conform.span.in && n < conform.span.out);
}

/** What the cut shows at a frame, all parts laid together: what is seen of the others, and how much of one shot is seen at each point. */
interface Together {
  readonly rest: Float32Array;
  readonly share: Float32Array;
  readonly sourceFrame: Frames;
}

/** Lays the parts of a frame together; null where the shot is none of them, or another's original has no picture. */
function laidTogether({ conform, sources }: Against, record: Frames, shot: Shot): Together | null {
  const [rest, share] = [new Float32Array(GRID_SIZE), new Float32Array(GRID_SIZE)];
  let sourceFrame: Frames | null = null;
  const { parts, count } = pictureAt(conform, record, newPicture());
  for (const part of parts.slice(0, count)) {
    if (isTitle(part)) continue;
    const isIt = part.shot === shot;
    const isDark = part.shot.drawn === 'black' || part.shot.drawn === 'nothing';
    const luma = isIt || isDark ? null : sources.luma(part.shot, part.sourceFrame, record);
    if (!isIt && !isDark && luma === null) return null;
    if (isIt) sourceFrame = part.sourceFrame;
    const coverage = coverageOf(part, conform, GRID);
    for (let i = 0; i < GRID_SIZE; i++) {
      const over = coverage[i] as number;
      rest[i] = (rest[i] as number) * (1 - over) + (luma ? (luma[i] as number) * over : 0);
      share[i] = (share[i] as number) * (1 - over) + (isIt ? over : 0);
    }
  }
  return sourceFrame === null ? null : { rest, share, sourceFrame };
}

/**
 * Proves a shot that is never seen by itself, under transitions from its first frame to its last or partly transparent: what the
 * cut shows there, laid together, is held against the reference, and so is every slip of the shot. Null where nothing of that
 * can be compared.
 */
export function proveMixed(against: Against, shot: Shot, empty: EventProof): EventProof | null {
  const { conform, laid, sources } = against;
  const { record } = shot.event;
  if (!shot.original) return null;
  const seen = standingFrames(conform, shot).flatMap((n) => {
    const reference = against.reference(n);
    const together = reference && laidTogether(against, n, shot);
    return reference && together ? [{ n, together, fine: comparable(reference, laid.mask) }] : [];
  });
  const told = spread(seen, TOLD);
  if (told.length < FEWEST) return null;
  const agreeing = ({ n, together: { rest, share, sourceFrame }, fine }: (typeof seen)[number], by: Frames): number => {
    const luma = sources.luma(shot, sourceFrame + by, n);
    if (!luma) return -1;
    const whole = rest.map((v, i) => v + (share[i] as number) * (luma[i] as number));
    return agreement(fine, comparable(whole, laid.mask));
  };
  const slips = new Map<Frames, number[]>();
  for (let by = -WIDEST; by <= WIDEST; by++)
    slips.set(
      by,
      told.map((one) => agreeing(one, by)),
    );
  const scores = (by: Frames) => slips.get(by) ?? [];
  let best: Frames = 0;
  for (const by of slips.keys()) if (meanOf(scores(by)) > meanOf(scores(best)) + 1e-9) best = by;
  const [asListed, asBest] = [scores(0), scores(best)];
  const trace = new Map(seen.map((one) => [one.n, Math.round(10_000 * agreeing(one, 0)) / 10_000]));
  const measured: EventProof = {
    ...empty,
    score: meanOf(asListed),
    bestOffset: best,
    bestScore: meanOf(asBest),
    framesCompared: seen.length,
    trace: Array.from({ length: record.out - record.in }, (_, offset) => trace.get(record.in + offset) ?? null),
  };
  if (meanOf(asBest) < FOUND) return { ...measured, verdict: 'uncertain', findings: [cannotTell('unlike')] };
  let [low, high] = [best, best];
  while (low > -WIDEST && surerBy(asBest, scores(low - 1)) < ALIKE) low--;
  while (high < WIDEST && surerBy(asBest, scores(high + 1)) < ALIKE) high++;
  const isListed = low <= 0 && high >= 0;
  if (isListed && low === high) return { ...measured, verdict: 'same' };
  if (isListed || !isClearly(asBest, asListed)) {
    const range = [Math.min(0, low), Math.max(0, high)] as const;
    return { ...measured, verdict: 'uncertain', findings: [cannotTell('still', range)] };
  }
  return { ...measured, verdict: 'differs', findings: [{ kind: 'slipped', frames: best, ...(high > low ? { range: [low, high] } : {}) }] };
}

/** So many frames must tell. */
const FEWEST = 3;
