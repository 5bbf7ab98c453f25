import type { Frames } from '../time';
import { bestLine, frameOn, isClearly, type Line, slipsOf, surerBy, type Table, tableOf } from './lines';
import { agreement, coarse, comparable, type Luma, type Mask } from './pictures';
import { AS_IT_IS, agreementLaid, isAsItIs, type Laid, type Match, placesOf, refined, warped } from './warp';

/** The pictures of one event: what the reference shows, and what its original holds. Offsets count from the event's record in. */
export interface EventPictures {
  /** Offsets at which the event stands alone in the reference, away from its edges where it is long enough. */
  readonly core: readonly Frames[];
  readonly length: Frames;
  reference(offset: Frames): Luma | null;
  /** The picture of a source frame, laid as the list lays it; null where the original has none. */
  source(frame: Frames): Luma | null;
  /** Source frames that there are, from 0 up to this. */
  readonly sourceFrames: Frames;
  /** The source frame that the conform puts at an offset. */
  expected(offset: Frames): Frames;
  /** Mean speed of the conform, in source frames a record frame. */
  readonly speed: number;
  /** Its speed as the list has it, as a factor, and how many source frames a record frame takes at 1. */
  readonly listed: number;
  readonly natural: number;
  /** True for what has one picture, however often it is shown. */
  readonly still: boolean;
  readonly mask: Mask;
}

/** What explains the pictures of an event best. */
export interface Explanation {
  readonly laid: Laid;
  /** What must be added to the source in. */
  readonly slip: Frames;
  /** Where the source runs, when that is at another speed than the list says; `slip` is 0 then. */
  readonly line: Line | null;
  /** Mean agreement as explained, and as conformed, -1..1; null where the original lacks the frames. */
  readonly score: number;
  readonly asConformed: number | null;
  /** Slips that would all look the same, as from the conform. */
  readonly range: readonly [Frames, Frames];
  /** How sure it is that this explains more than the conform does (`surerBy`). */
  readonly sure: number;
  /** Whether that is enough to say it outright (`isClearly`). */
  readonly clear: boolean;
}

/** The source frame that an explanation puts at an offset. */
export const explainedFrame = (
  { line, slip }: Pick<Explanation, 'line' | 'slip'>,
  expected: EventPictures['expected'],
  offset: Frames,
): Frames => (line ? frameOn(line, offset) : expected(offset) + slip);

/** At or above this agreement it is the picture. Unrelated pictures stay below 0.2 (docs/proof.md). */
export const FOUND = 0.45;
/** Below this agreement it is worth looking for another place of the picture in the frame. */
const WORTH_PLACING = 0.75;
/** How far from the conform a source is searched, each way, where it is longer than that. */
const REACH: Frames = 3000;
/** Pictures that take part in a search, in telling the exact frame, and in telling a place. */
const [SEARCHED, TOLD, PLACED] = [14, 48, 5];

/** At most `most` of some things, spread evenly. */
export function spread<T>(all: readonly T[], most: number): T[] {
  const count = Math.min(all.length, most);
  return Array.from({ length: count }, (_, i) => all[Math.floor(((i + 0.5) * all.length) / count)] as T);
}

/** The comparable pictures of an event's source, laid in one way; made when they are asked for. */
function sources(p: EventPictures, laid: Laid) {
  const fine = new Map<Frames, Float32Array | null>();
  return {
    luma: (n: Frames) => {
      const luma = p.source(n);
      return luma && warped(luma, laid);
    },
    coarse(n: Frames) {
      const luma = this.luma(n);
      return luma && coarse(luma, p.mask);
    },
    fine(n: Frames): Float32Array | null {
      const known = fine.get(n);
      if (known !== undefined) return known;
      const luma = this.luma(n);
      const made = luma && comparable(luma, p.mask);
      fine.set(n, made);
      return made;
    },
  };
}

type FrameAt = (offset: Frames) => Frames;

/** What runs where, for one way of laying the source. */
interface Run {
  readonly laid: Laid;
  readonly slip: Frames;
  readonly line: Line | null;
  readonly score: number;
}

/** Explains an event: which part of its original it shows, at which speed, and how that is laid. Null where there is nothing to compare. */
export function explain(p: EventPictures): Explanation | null {
  const told = spread(p.core, TOLD).flatMap((offset) => {
    const luma = p.reference(offset);
    return luma ? [{ offset, luma, fine: comparable(luma, p.mask) }] : [];
  });
  if (told.length === 0) return null;
  const searched = spread(told, SEARCHED);
  const searchedCoarse = searched.map((t) => coarse(t.luma, p.mask));
  const around = p.expected(searched[searched.length >> 1]?.offset ?? 0);
  const [first, end] = [Math.max(0, around - REACH), Math.min(p.sourceFrames, around + REACH)];

  const laidSources = new Map<Laid, ReturnType<typeof sources>>();
  /** The pictures of one way of laying, which several questions ask for, made once. */
  const sourcesOf = (laid: Laid) => {
    const known = laidSources.get(laid) ?? sources(p, laid);
    laidSources.set(laid, known);
    return known;
  };
  /** Agreement frame by frame where a run puts the source; -1 where it has no frame. */
  const along = (laid: ReturnType<typeof sources>, frameAt: FrameAt): number[] =>
    told.map(({ offset, fine }) => {
      const picture = laid.fine(frameAt(offset));
      return picture ? agreement(fine, picture) : -1;
    });
  const meanOf = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

  const runFor = (laid: Laid): Run => {
    const s = sourcesOf(laid);
    const score = (frameAt: FrameAt) => meanOf(along(s, frameAt));
    const atSlip = (d: Frames) => score((k) => p.expected(k) + d);
    let best = { slip: 0, score: atSlip(0) };
    if (p.still) return { laid, line: null, ...best };
    const table: Table = tableOf(
      searched.map((t) => t.offset),
      searchedCoarse,
      first,
      end,
      (n) => s.coarse(n),
    );
    const slips = slipsOf(table, p.expected);
    for (const { frames } of slips) {
      let here = { slip: frames, score: atSlip(frames) };
      for (let steps = 0; steps < 4; steps++) {
        const next = [here.slip - 1, here.slip + 1].map((slip) => ({ slip, score: atSlip(slip) })).sort((a, b) => b.score - a.score)[0];
        if (!next || next.score <= here.score) break;
        here = next;
      }
      if (here.score > best.score + 1e-9) best = here;
    }
    const atFrames = (run: Pick<Run, 'line' | 'slip'>) => along(s, (k) => explainedFrame(run, p.expected, k));
    // Where movement repeats itself, the conform's own place stands unless another is surely better.
    const plainly = atSlip(0);
    if (best.slip !== 0 && plainly >= FOUND && !isClearly(atFrames({ line: null, slip: best.slip }), atFrames({ line: null, slip: 0 })))
      best = { slip: 0, score: plainly };
    const slipped: Run = { laid, line: null, ...best };
    if (p.length < SHORTEST_LINE || (best.slip === 0 && isEven(atFrames(slipped)))) return slipped;
    const coarseLine = bestLine(table, p.length);
    const lines = [
      ...(coarseLine && coarseLine.score >= (slips[0]?.score ?? -1) - AS_COARSE ? [coarseLine as Line] : []),
      ...(best.score >= FOUND ? linesThrough(p, best.slip) : []),
    ].filter((line) => Math.abs(line.speed - p.speed) * p.length >= LEAST_DRIFT);
    const [likeliest] = lines
      .map((line) => ({ line, value: score((k) => frameOn(line, k)) }))
      .sort((one, other) => other.value - one.value);
    if (!likeliest || likeliest.value < best.score - LIKELY) return slipped;
    const fit = finerLine(likeliest.line, p.length, score);
    const run: Run = { laid, slip: 0, line: { start: fit.start, speed: fit.speed }, score: fit.score };
    const drift = Math.abs(fit.speed - p.speed) * p.length;
    return drift >= LEAST_DRIFT && fit.score >= best.score + BETTER_LINE && isClearly(atFrames(run), atFrames(slipped)) ? run : slipped;
  };

  const frameAt = (run: Pick<Run, 'line' | 'slip'>, offset: Frames) => explainedFrame(run, p.expected, offset);
  const matches = (run: Pick<Run, 'line' | 'slip'>): Match[] =>
    spread(told, PLACED).flatMap(({ offset, luma }): Match[] => {
      const source = p.source(frameAt(run, offset));
      return source ? [{ reference: luma, source }] : [];
    });

  let run = runFor(AS_IT_IS);
  const plain = sourcesOf(AS_IT_IS);
  const conformed = along(plain, p.expected);
  if (run.score < WORTH_PLACING) run = placed(p, run, spread(told, PLACED), matches, runFor) ?? run;
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
  function mirrored(found: Run): Run | null {
    if (found.score > TOO_LIKE || found.score < FOUND || found.laid.flip !== '') return null;
    const pairs = matches(found);
    const plainly = agreementLaid(pairs, found.laid, p.mask);
    for (const flip of ['horizontal', 'vertical'] as const) {
      const laid = { ...AS_IT_IS, flip };
      if (agreementLaid(pairs, laid, p.mask) > plainly + MIRRORED) return runFor(laid);
    }
    return null;
  }

  function withoutSlip(found: Run): Run | null {
    const pairs = matches({ line: null, slip: 0 });
    const [middle] = spread(pairs, 1);
    if (!middle) return null;
    const starts = [{ ...AS_IT_IS, flip: found.laid.flip }, found.laid, ...placesOf(middle, [found.laid.flip], p.mask, 2)];
    const laid = starts.map((from) => refined(pairs, from, p.mask)).map((l) => ({ l, score: agreementLaid(pairs, l, p.mask) }));
    const best = laid.sort((a, b) => b.score - a.score)[0];
    if (!best) return null;
    const score = meanOf(along(sourcesOf(best.l), p.expected));
    return score >= found.score - SIMPLER ? { laid: best.l, slip: 0, line: null, score } : null;
  }

  const s = sourcesOf(run.laid);
  const explained = along(s, (k) => frameAt(run, k));
  let [low, high] = [run.slip, run.slip];
  if (!run.line && !p.still) {
    const same = (d: Frames) =>
      surerBy(
        explained,
        along(s, (k) => p.expected(k) + d),
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
/** Speeds that editors choose, as factors: where coarse pictures are too dark or still to tell one, these are tried. */
const USUAL_SPEEDS = [-2, -1, -0.5, 0, 0.25, 0.5, 0.75, 0.8, 0.9, 1, 1.1, 1.25, 1.5, 2, 3];

/** By how much less the ends of an event may agree than its middle. */
const UNEVEN = 0.004;

/** True where an event agrees as well at its ends as in its middle: another speed would lead the ends astray. */
function isEven(values: readonly number[]): boolean {
  const third = Math.floor(values.length / 3);
  if (third === 0) return true;
  const mean = (from: number, to: number) => values.slice(from, to).reduce((a, b) => a + b, 0) / (to - from);
  return mean(third, values.length - third) - Math.min(mean(0, third), mean(values.length - third, values.length)) < UNEVEN;
}

/** Lines at usual speeds that meet the conform at the event's first frame, slipped or not, or in its middle. */
function linesThrough(p: EventPictures, slip: Frames): Line[] {
  const middle = Math.floor((p.length - 1) / 2);
  return USUAL_SPEEDS.flatMap((factor) => {
    const speed = factor * p.natural;
    const meets = [...new Set([p.expected(0), p.expected(0) + slip, p.expected(middle) + slip - Math.round(speed * middle)])];
    return meets.map((at) => ({ speed, start: at + 0.5 }));
  });
}

/** How far below a slip a line may be before it is refined. */
const LIKELY = 0.05;
/** Events shorter than this have no speed that could be told, in frames. */
const SHORTEST_LINE = 10;
/** How far from end to end another speed must lead, in frames, and how much better it must agree. */
const LEAST_DRIFT = 1.5;
const BETTER_LINE = 0.002;
/** Coarse pictures may tell it by this much less. */
const AS_COARSE = 0.004;
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
  return laid;
}

/** Slips at which a picture is tried for another place in the frame. */
const TRIED: readonly Frames[] = [0, -12, 12, -30, 30];

/** Looks for the event's picture anywhere in the frame, as it is or flipped; null where it is not found, or no better than it was. */
function placed(
  p: EventPictures,
  run: Run,
  told: readonly { offset: Frames; luma: Luma }[],
  matches: (run: Pick<Run, 'line' | 'slip'>) => Match[],
  runFor: (laid: Laid) => Run,
): Run | null {
  const middle = told[told.length >> 1];
  if (!middle) return null;
  let best: { laid: Laid; score: number } | null = null;
  const tried = p.still ? [0] : [...new Set([0, run.slip, ...TRIED])];
  for (const flips of [[''], ['horizontal', 'vertical']] as const) {
    for (const slip of tried) {
      const source = p.source(p.expected(middle.offset) + slip);
      if (!source) continue;
      const match: Match = { reference: middle.luma, source };
      for (const place of placesOf(match, flips, p.mask)) {
        const laid = refined([match], place, p.mask);
        const score = agreementLaid([match], laid, p.mask);
        if (!best || score > best.score) best = { laid, score };
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

/** A single picture that agrees so well needs no further looking. */
const CERTAIN = 0.7;

/** A line finer than the table tells it: where it agrees best, in whole hundredths of speed where those agree as well. */
function finerLine(line: Line, length: Frames, score: (frameAt: FrameAt) => number): Line & { score: number } {
  const middle = (length - 1) / 2;
  const through = (speed: number, at: number): Line => ({ speed, start: at - speed * middle });
  const valued = (one: Line) => ({ ...one, score: score((k) => frameOn(one, k)) });
  const middleOf = (one: Line) => one.start + one.speed * middle;
  const climbed = (from: Line & { score: number }, speeds: readonly number[]) => {
    let best = from;
    for (const step of [2, 1, 0.5, 0.25]) {
      const around = best;
      for (const i of speeds)
        for (let j = -2; j <= 2; j++) {
          const one = valued(through(around.speed + (i * step) / length, middleOf(around) + j * step * 0.5));
          if (one.score > best.score + 1e-9) best = one;
        }
    }
    return best;
  };
  const best = climbed(valued(line), [-2, -1, 0, 1, 2]);
  const whole = [
    Math.round(best.speed * 100) / 100,
    Math.round(best.speed * 20) / 20,
    Math.round(best.speed * 5) / 5,
    Math.round(best.speed),
  ];
  let simplest: Line & { score: number } = best;
  for (const speed of whole) {
    const one = climbed(valued(through(speed, middleOf(best))), [0]);
    if (one.score >= best.score - AS_GOOD * (1 - best.score)) simplest = one;
  }
  return simplest;
}

/** A rounder speed stands where it leaves no more than this much more unexplained, as a share. */
const AS_GOOD = 0.03;
