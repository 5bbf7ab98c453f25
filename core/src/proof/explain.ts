import type { Frames } from '../time';
import { isClearly, meanOf, surerBy } from './lines';
import type { Luma, Mask } from './pictures';
import { type Course, type EventPictures, FOUND, frameOfRun, type SourceRun, sourceRunsOf, spread, toldOf, WORTH_PLACING } from './runs';
import { AS_IT_IS, agreementLaid, isAsItIs, type Laid, type Match, placesOf, refined } from './warp';

/** Pictures that take part in telling a place. */
const PLACED = 5;

/** What explains the pictures of an event best. */
export interface Explanation extends SourceRun {
  /** Mean agreement as conformed, -1..1; null where the original lacks the frames. */
  readonly asConformed: number | null;
  /** Slips that would all look the same, as from the conform. */
  readonly range: readonly [Frames, Frames];
  /** How sure it is that this explains more than the conform does (`surerBy`). */
  readonly sure: number;
  /** Whether that is enough to say it outright (`isClearly`). */
  readonly clear: boolean;
}

/** Explains an event: which part of its original it shows, at which speed, and how that is laid. Null where there is nothing to compare. */
export function explain(p: EventPictures): Explanation | null {
  const told = toldOf(p);
  if (told.length === 0) return null;
  const { runFor, along, keyed } = sourceRunsOf(p, told);
  const frameAt = (run: Course, offset: Frames) => frameOfRun(run, p.expected, offset);
  const matches = (run: Course): Match[] =>
    spread(told, PLACED).flatMap(({ offset, luma }): Match[] => {
      const source = p.source(frameAt(run, offset), offset);
      return source ? [{ reference: luma, source }] : [];
    });

  let run = runFor(AS_IT_IS);
  const conformed = along(AS_IT_IS, p.expected);
  if (run.score >= RESEMBLES) run = keyed(run);
  if (run.score < WORTH_PLACING && !run.knots) run = placed(p, run, spread(told, PLACED), matches, runFor) ?? run;
  // A little larger or further to the side: told by least squares.
  for (let round = 0; round < 2 && run.score >= FOUND; round++) {
    const pairs = matches(run);
    if (pairs.length === 0) break;
    const laid = refined(pairs, run.laid, p.mask);
    if (!isReframed(laid) && laid.flip === '') break;
    const [before, after] = [agreementLaid(pairs, run.laid, p.mask), agreementLaid(pairs, laid, p.mask)];
    if (after < before + BETTER_PLACE * (1 - before)) break;
    const again = runFor(laid);
    if (again.score <= run.score) break;
    run = again;
  }
  if (run.laid.flip === '' && !isAsItIs(run.laid) && !isReframed(run.laid)) run = runFor(AS_IT_IS);
  run = mirrored(run) ?? run;
  if (!isAsItIs(run.laid)) run = { ...run, laid: simplest(matches(run), run.laid, p.mask) };
  // A camera that pans makes a place and a slip look alike: the place alone is the simpler word.
  if (run.slip !== 0 && !isAsItIs(run.laid)) run = withoutSlip(run) ?? run;

  /** A picture that is nearly its own mirror image is held against that too. */
  function mirrored(found: SourceRun): SourceRun | null {
    if (found.score > TOO_LIKE || found.score < FOUND || found.laid.flip !== '') return null;
    const pairs = matches(found);
    const plainly = agreementLaid(pairs, found.laid, p.mask);
    for (const flip of ['horizontal', 'vertical'] as const) {
      const laid = { ...AS_IT_IS, flip };
      if (agreementLaid(pairs, laid, p.mask) > plainly + MIRRORED) return runFor(laid);
    }
    return null;
  }

  function withoutSlip(found: SourceRun): SourceRun | null {
    const pairs = matches({ line: null, slip: 0 });
    const [middle] = spread(pairs, 1);
    if (!middle) return null;
    const starts = [{ ...AS_IT_IS, flip: found.laid.flip }, found.laid, ...placesOf(middle, [found.laid.flip], p.mask, 4)];
    const laid = starts.map((from) => refined(pairs, from, p.mask)).map((l) => ({ l, score: agreementLaid(pairs, l, p.mask) }));
    const best = laid.sort((a, b) => b.score - a.score)[0];
    if (!best) return null;
    const score = meanOf(along(best.l, p.expected));
    return score >= found.score - SIMPLER ? { laid: best.l, slip: 0, line: null, score } : null;
  }

  if (run.score >= FOUND && !run.knots) run = keyed(run);
  const explained = along(run.laid, (k) => frameAt(run, k));
  let [low, high] = [run.slip, run.slip];
  if (!run.line && !run.knots && !p.still) {
    const same = (d: Frames) =>
      surerBy(
        explained,
        along(run.laid, (k) => p.expected(k) + d),
      ) < ALIKE;
    while (low > run.slip - WIDEST && same(low - 1)) low--;
    while (high < run.slip + WIDEST && same(high + 1)) high++;
  }
  const there = conformed.filter((v) => v > -1);
  return {
    ...run,
    asConformed: there.length > 0 ? meanOf(there) : null,
    range: [low, high],
    sure: surerBy(explained, conformed),
    clear: isClearly(explained, conformed),
  };
}

/** Above this agreement no mirror image could agree better, and below it by how much it must. */
const TOO_LIKE = 0.96;
const MIRRORED = 0.02;
/** By how much less the simpler of two explanations may agree. */
const SIMPLER = 0.015;
/** A place must take away so much of what was unexplained. */
const BETTER_PLACE = 0.15;
/** Certainty (`surerBy`) above which one explanation stands against another, and below which two are alike. */
export const SURE = 4;
const ALIKE = 3;
/** How far the range of slips that look alike is followed, each way. */
const WIDEST: Frames = 24;

/** True for what differs from the picture as it is by more than could be seen: scale 0.8 %, place 0.5 % and 0.8 %, a quarter of a degree. */
export const isReframed = ({ scale, x, y, rotation }: Laid): boolean =>
  Math.abs(scale - 1) > 0.008 || Math.abs(x) > 0.005 || Math.abs(y) > 0.008 || Math.abs(rotation) > 0.25;

/** By how much of what is unexplained a simpler place may leave more. */
const AS_SIMPLE = 0.04;

/** The place without what adds nothing: a rotation, a scale or a move that is only there because least squares found one. */
function simplest(pairs: readonly Match[], from: Laid, mask: Mask): Laid {
  let laid = from;
  let score = agreementLaid(pairs, laid, mask);
  for (const plain of [{ rotation: 0 }, { scale: 1 }, { x: 0, y: 0 }, { rotation: 0, scale: 1, x: 0, y: 0 }]) {
    const simpler = { ...laid, ...plain };
    const value = agreementLaid(pairs, simpler, mask);
    if (value < score - AS_SIMPLE * (1 - score)) continue;
    laid = simpler;
    score = value;
  }
  // People choose round numbers: one stands where pictures cannot tell it from what least squares found.
  for (const [what, steps] of ROUND)
    for (const step of steps) {
      const rounder = { ...laid, [what]: Math.round(laid[what] / step) * step };
      if (agreementLaid(pairs, rounder, mask) < score - AS_ROUND * (1 - score)) continue;
      laid = rounder;
      break;
    }
  return laid;
}

/** Steps to which numbers are rounded, the roundest first, and by how much of what is unexplained a rounder one may leave more. */
const ROUND = [
  ['scale', [0.05, 0.01]],
  ['rotation', [1, 0.5]],
  ['x', [0.01, 0.005]],
  ['y', [0.01, 0.005]],
] as const satisfies readonly (readonly ['scale' | 'rotation' | 'x' | 'y', readonly number[]])[];
const AS_ROUND = 0.006;

/** Slips at which a picture is tried for another place in the frame. */
const TRIED: readonly Frames[] = [0, -12, 12, -30, 30];

/** Looks for the event's picture anywhere in the frame, as it is or flipped; null where it is not found, or no better than it was. */
function placed(
  p: EventPictures,
  run: SourceRun,
  told: readonly { offset: Frames; luma: Luma }[],
  matches: (run: Course) => Match[],
  runFor: (laid: Laid) => SourceRun,
): SourceRun | null {
  const middle = told[told.length >> 1];
  if (!middle) return null;
  let best: { laid: Laid; score: number } | null = null;
  const tried = p.still ? [0] : [...new Set([0, run.slip, ...(p.moving ? [] : TRIED)])];
  for (const flips of [[''], ['horizontal', 'vertical']] as const) {
    for (const slip of tried) {
      const source = p.source(p.expected(middle.offset) + slip, middle.offset);
      if (!source) continue;
      const match: Match = { reference: middle.luma, source };
      // Turned pictures are looked for where the event most likely lies: mirrored ones least squares turn as far as it takes.
      const mayTurn = flips[0] === '' && (slip === 0 || slip === run.slip);
      for (const turned of mayTurn ? [false, true] : [false]) {
        for (const place of placesOf(match, flips, p.mask, 4, turned)) {
          const laid = refined([match], place, p.mask);
          const score = agreementLaid([match], laid, p.mask);
          if (!best || score > best.score) best = { laid, score };
        }
        if (best && best.score > CERTAIN) break;
      }
      if (best && best.score > CERTAIN) break;
    }
    if (best && best.score > CERTAIN) break;
  }
  if (!best || best.score < FOUND) return null;
  const first = runFor(best.laid);
  const laid = refined(matches(first), first.laid, p.mask);
  const again = runFor(laid);
  const found = again.score > first.score ? again : first;
  return found.score > Math.max(FOUND, run.score + 0.05) ? found : null;
}

/** Where the best of straight runs agrees less than this, none that changes its speed on the way is looked for. */
const RESEMBLES = 0.15;
/** A single picture that agrees so well needs no further looking. */
const CERTAIN = 0.7;
