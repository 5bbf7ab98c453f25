import type { SpeedKey } from '../edit';
import type { Frames } from '../time';
import { type Explanation, isReframed, SURE } from './explain';
import { type Knot, placeThrough } from './keyed';
import type { Box } from './overlay';
import { detailOf } from './pictures';
import { type EventPictures, FOUND, frameOfRun } from './runs';

/** What a proof says of one event. */
export const VERDICTS = ['same', 'differs', 'uncertain', 'unchecked'] as const;
export type Verdict = (typeof VERDICTS)[number];

/** How one picture goes over into the next, as the proof tells it; null is a cut. */
export interface Passage {
  readonly type: string;
  readonly durationFrames: Frames;
  /** How far it begins before (negative) or after the cut. */
  readonly offsetFrames: Frames;
  readonly wipeCode: string | null;
  /** True for a wipe that runs the other way: what grows, shrinks. */
  readonly reverse?: boolean;
  /** Where nothing leaves, so that it fades in; left out where the picture before does. */
  readonly from?: 'black';
  /** Where nothing comes in, so that the event fades out: it then lies about the record out. */
  readonly to?: 'black';
}

/** The side on which something is missing: in the conform, or in the reference. */
export type Side = 'conform' | 'reference';

/** A place in another original: the frame that stands for the source in, and its label; null without timecode. */
export interface Take {
  readonly path: string;
  readonly sourceStartFrame: Frames;
  readonly sourceIn: string | null;
}

/** Speeds as factors: -1 reverse, 0 a freeze; the mean of one that changes on the way. */
export interface SpeedDiffers {
  readonly kind: 'speed-differs';
  readonly expected: number;
  readonly measured: number;
  /** Of a speed that changes on the way: source frames after that of the first key, by frames after the record in. */
  readonly keys?: readonly SpeedKey[];
  /** An offset at which list and reference show the same source frame; null where they never do. Left out: the first. */
  readonly meets?: Frames | null;
  /** Where they never do: how many source frames the first one lies aside. */
  readonly aside?: Frames;
}

/** What one discrepancy is. `slipped.frames` is what must be added to the source in to agree with the reference. */
type Told =
  /** `range`: slips that look alike, where there are several. */
  | { readonly kind: 'slipped'; readonly frames: Frames; readonly range?: readonly [Frames, Frames] }
  /** A cut that lies earlier (negative) or later in the reference; `out` only where nothing follows. */
  | { readonly kind: 'cut-moved'; readonly edge: 'in' | 'out'; readonly frames: Frames }
  | {
      readonly kind: 'wrong-picture';
      readonly path: string | null;
      readonly sourceStartFrame: Frames | null;
      readonly sourceIn: string | null;
      /** How far aside of that frame it may lie, where several look alike. */
      readonly range?: readonly [Frames, Frames];
      /** Takes that agree as well, so that pictures cannot tell which of them it is. */
      readonly others?: readonly Take[];
    }
  /** Relative to the conform: x and y are how far the centre moved, as shares of the frame; rotation in degrees, clockwise. */
  | { readonly kind: 'reframed'; readonly scale: number; readonly x: number; readonly y: number; readonly rotation: number }
  /** `horizontal`: left and right changed. */
  | { readonly kind: 'mirrored'; readonly axis: 'horizontal' | 'vertical' }
  | SpeedDiffers
  | { readonly kind: 'transition-differs'; readonly expected: Passage | null; readonly measured: Passage | null }
  | { readonly kind: 'layer-missing'; readonly side: Side; readonly area: Box }
  /** `frames`: how many of those asked for the original lacks; left out when it has none of them, or the reference is black. */
  | { readonly kind: 'picture-missing'; readonly side: Side; readonly frames?: Frames }
  /** `why` is one of `CannotTell`, or what a file has against being read, in words; `range`: slips that would all look the same. */
  | { readonly kind: 'cannot-tell'; readonly why: string; readonly range?: readonly [Frames, Frames]; readonly others?: readonly Take[] };

/** One discrepancy, with how sure it is, 0..1, where pictures told it. */
export type Finding = Told & { readonly confidence?: number };

/** Why pictures cannot tell whether an event is right. */
export type CannotTell = 'too-soft' | 'unlike' | 'still' | 'not-paired' | 'covered';

export const cannotTell = (why: CannotTell, range?: readonly [Frames, Frames]): Finding => ({
  kind: 'cannot-tell',
  why,
  ...(range ? { range } : {}),
});

/** The proof of one event. `score` is the agreement as conformed, -1..1, or null when unchecked. */
export interface EventProof {
  readonly event: string;
  readonly number: string;
  readonly track: string;
  readonly verdict: Verdict;
  readonly score: number | null;
  readonly bestOffset: Frames | null;
  readonly bestScore: number | null;
  /** Agreement frame by frame over the event's record span, null where it was not compared. */
  readonly trace: readonly (number | null)[];
  readonly framesCompared: number;
  readonly findings: readonly Finding[];
}

/** Lines that screens draw beside the agreement of an event: at or above `same` it is the picture, below `other` it is another. */
export const LINES = { same: FOUND, other: 0.25 } as const;

/** Detail in code values (`detailOf`) below which a low agreement is no evidence: compression weighs as much. */
const SOFT = 4;

const ANOTHER: Finding = { kind: 'wrong-picture', path: null, sourceStartFrame: null, sourceIn: null };

/** How sure a finding is, from how much better it explains the pictures than the conform does. */
const confidenceOf = (sure: number): number => Math.round(100 * (1 - Math.exp(-Math.max(0, sure) / SURE))) / 100;

const places = (n: number, digits: number): number => Math.round(n * 10 ** digits) / 10 ** digits;

/** Judges an event from what explains it. `wrong-picture` here only says that this is not it. */
export function judge(p: EventPictures, e: Explanation): { verdict: Verdict; findings: Finding[] } {
  if (e.score < FOUND) {
    const offset = p.core[p.core.length >> 1] ?? 0;
    const [reference, source] = [p.reference(offset), p.source(p.expected(offset), offset)];
    const details = [reference, source].map((luma) => (luma ? detailOf(luma, p.mask) : 0));
    if (Math.max(...details) < SOFT) return { verdict: 'uncertain', findings: [cannotTell('too-soft')] };
    return Math.min(...details) < SOFT
      ? { verdict: 'uncertain', findings: [cannotTell('unlike')] }
      : { verdict: 'differs', findings: [ANOTHER] };
  }
  const confidence = confidenceOf(e.sure);
  const findings: Finding[] = [];
  const { flip, scale, x, y, rotation } = e.laid;
  if (flip !== '') findings.push({ kind: 'mirrored', axis: flip, confidence });
  if (isReframed(e.laid) && (flip !== '' || e.clear))
    findings.push({
      kind: 'reframed',
      scale: places(scale, 4),
      x: places(x, 4),
      y: places(y, 4),
      rotation: places(rotation, 2),
      confidence,
    });
  const speed = speedOf(p, e);
  if (speed) findings.push({ ...speed, confidence });
  const [low, high] = e.range;
  const atZero = low <= 0 && high >= 0;
  const slipped = !speed && e.slip !== 0 && !atZero;
  if (slipped && e.clear) findings.push({ kind: 'slipped', frames: e.slip, ...(high > low ? { range: e.range } : {}), confidence });
  if (findings.length > 0) return { verdict: 'differs', findings };
  // A still shows one picture: it is right, and nothing of it could slip.
  if (slipped) return { verdict: 'uncertain', findings: [cannotTell('still', [Math.min(0, low), Math.max(0, high)])] };
  if (p.still || high - low < 1) return { verdict: 'same', findings: [] };
  return { verdict: 'uncertain', findings: [cannotTell('still', e.range)] };
}

/** Knots from an event's first frame to its last. */
const throughout = (knots: readonly Knot[], length: Frames): Knot[] =>
  [0, ...knots.slice(1, -1).map((k) => k.offset), length - 1].map((offset) => ({ offset, frame: placeThrough(knots, offset) }));

/** What is said of a speed that is another; null where it is the list's. */
function speedOf(p: EventPictures, e: Explanation): SpeedDiffers | null {
  const knots = e.knots && throughout(e.knots, p.length);
  const [first, last] = [knots?.[0], knots?.at(-1)];
  const measured = first && last ? (last.frame - first.frame) / (last.offset - first.offset) : e.line?.speed;
  if (measured === undefined) return null;
  const aside = Array.from({ length: p.length }, (_, k) => frameOfRun(e, p.expected, k) - p.expected(k));
  const meeting = aside.flatMap((by, k) => (by === 0 ? [k] : []));
  return {
    kind: 'speed-differs',
    expected: places(p.listed, 4),
    measured: places(measured / p.natural, 4),
    ...(knots && first ? { keys: knots.map((k) => ({ record: k.offset, source: places((k.frame - first.frame) / p.natural, 2) })) } : {}),
    ...(meeting.length > 0 ? { meets: meeting[meeting.length >> 1] as Frames } : { meets: null, aside: aside[0] as Frames }),
  };
}

/** An event that agrees so much less than half of all do may be another take that resembles it, as a share. */
const WEAK = 0.85;

/** Events whose picture may lie in another original, so that it is worth looking for: nothing explains them, or little beside the others. What the reference lacks is not. */
export function strangersAmong(proofs: readonly EventProof[]): EventProof[] {
  const scores = proofs.flatMap((p) => (p.bestScore === null ? [] : [p.bestScore])).sort((a, b) => a - b);
  const usual = scores[scores.length >> 1] ?? 1;
  const absent = (f: Finding) => (f.kind === 'layer-missing' || f.kind === 'picture-missing') && f.side === 'reference';
  return proofs.filter(
    ({ bestScore, findings }) =>
      findings.some((f) => f.kind === 'wrong-picture' && f.path === null) ||
      (bestScore !== null && bestScore < Math.max(FOUND, WEAK * usual) && !findings.some(absent)),
  );
}

/** True for a picture that is too still to be told to the frame: other takes may look like it too. */
export const isUndecided = (f: Finding): boolean => f.kind === 'cannot-tell' && f.why === 'still';

/** Events of which other takes may look the same. */
export const undecidedAmong = (proofs: readonly EventProof[]): EventProof[] => proofs.filter((p) => p.findings.some(isUndecided));

/** How many events have each verdict. */
export function countVerdicts(proofs: readonly { verdict: Verdict }[]): Record<Verdict, number> {
  const counts = { same: 0, differs: 0, uncertain: 0, unchecked: 0 };
  for (const p of proofs) counts[p.verdict]++;
  return counts;
}
