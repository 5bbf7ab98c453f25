import type { Frames } from '../time';
import type { Alignment } from './align';

/** What a proof says of one event. */
export const VERDICTS = ['same', 'differs', 'uncertain', 'unchecked'] as const;
export type Verdict = (typeof VERDICTS)[number];

/** One discrepancy. `slipped.frames` is what must be added to the source in to agree with the reference. */
export type Finding =
  | { readonly kind: 'slipped'; readonly frames: Frames }
  | {
      readonly kind: 'wrong-picture';
      readonly path: string | null;
      readonly sourceStartFrame: Frames | null;
      readonly sourceIn: string | null;
    }
  | { readonly kind: 'reframed'; readonly scale: number; readonly x: number; readonly y: number; readonly rotation: number }
  /** `frames`: how many of those asked for the original lacks; left out when it has none of them. */
  | { readonly kind: 'picture-missing'; readonly frames?: Frames }
  /** `why` is one of `CannotTell`, or what a file has against being read, in words. */
  | { readonly kind: 'cannot-tell'; readonly why: string };

/** Why pictures cannot tell whether an event is right. */
export type CannotTell = 'too-soft' | 'unlike' | 'still' | 'not-paired' | 'covered';

export const cannotTell = (why: CannotTell): Finding => ({ kind: 'cannot-tell', why });

/** The proof of one event. `score` is the correlation as conformed, -1..1, or null when unchecked. */
export interface EventProof {
  readonly event: string;
  readonly number: string;
  readonly track: string;
  readonly verdict: Verdict;
  readonly score: number | null;
  readonly bestOffset: Frames | null;
  readonly bestScore: number | null;
  /** Mean correlation frame by frame over the event's record span, null where it was not compared. */
  readonly trace: readonly (number | null)[];
  readonly framesCompared: number;
  readonly findings: readonly Finding[];
}

/**
 * Where the lines are drawn, on local-mean-free correlation of 96 x 54 pictures. Measured on the
 * demo's reference: the right frame scores 0.98 to 0.999 through compression, letterbox and burn-in;
 * another take of the same set scores below 0.6.
 */
export const LINES = {
  /** At or above: it is this picture. */
  same: 0.8,
  /** Below, at every offset: it is another picture. */
  other: 0.6,
  /** Two offsets closer than this cannot be told apart. */
  telling: 0.0015,
  /**
   * Detail, in code values, from which a low score means anything. Rounding and compression alone
   * leave about half a code value; a drawn fog measured 0.6 and scored 0.32 against its own render,
   * the demo's reference has 10 and more.
   */
  detail: 4,
} as const;

const TOO_SOFT = cannotTell('too-soft');
const UNLIKE = cannotTell('unlike');
const ANOTHER: Finding = { kind: 'wrong-picture', path: null, sourceStartFrame: null, sourceIn: null };

/**
 * Judges an event from its alignment. `detail` is that of the sharper of the two pictures, in code
 * values (`detailOf`): where even that is soft, a low score is no evidence against the picture, and
 * no offset is better than another. `wrong-picture` here only says that this is not it.
 */
export function judge(alignment: Alignment, detail: number): { verdict: Verdict; findings: Finding[] } {
  const { best, atZero, sharpness } = alignment;
  if (detail < LINES.detail && (atZero < LINES.same || best.offset !== 0)) return { verdict: 'uncertain', findings: [TOO_SOFT] };
  if (best.score < LINES.other) return { verdict: 'differs', findings: [ANOTHER] };
  if (best.score - atZero < LINES.telling && atZero >= LINES.same) {
    if (sharpness < LINES.telling && isFlat(alignment))
      return {
        verdict: 'uncertain',
        findings: [cannotTell('still')],
      };
    return { verdict: 'same', findings: [] };
  }
  if (best.score < LINES.same) return { verdict: 'uncertain', findings: [UNLIKE] };
  if (best.offset === 0) return { verdict: 'same', findings: [] };
  return { verdict: 'differs', findings: [{ kind: 'slipped', frames: best.offset }] };
}

/** A still cannot slip: its picture is right or it is not, or it is too soft to say (see `judge`). */
export function judgeStill(score: number, detail: number): { verdict: Verdict; findings: Finding[] } {
  if (score >= LINES.same) return { verdict: 'same', findings: [] };
  if (detail < LINES.detail) return { verdict: 'uncertain', findings: [TOO_SOFT] };
  return score < LINES.other ? { verdict: 'differs', findings: [ANOTHER] } : { verdict: 'uncertain', findings: [UNLIKE] };
}

/** A picture that does not change with the offset: a still, or next to one. */
function isFlat({ scores, best }: Alignment): boolean {
  return scores.filter((s) => Math.abs(s.offset - best.offset) <= 2).every((s) => best.score - s.score < LINES.telling);
}

/** How many events have each verdict. */
export function countVerdicts(proofs: readonly { verdict: Verdict }[]): Record<Verdict, number> {
  const counts = { same: 0, differs: 0, uncertain: 0, unchecked: 0 };
  for (const p of proofs) counts[p.verdict]++;
  return counts;
}
