import type { Frames } from '../time';
import { frameThrough, type Knot, keyedRun } from './keyed';
import { bestLine, frameOn, isClearly, isSteadilyBetter, type Line, meanOf, slipsOf, type Table, tableOf } from './lines';
import { agreement, coarse, comparable, type Luma, type Mask } from './pictures';
import { placesIn, runsAsListed } from './prints';
import { isAsItIs, type Laid, warped } from './warp';

/** The pictures of one event: what the reference shows, and what its original holds. Offsets count from the event's record in. */
export interface EventPictures {
  /** Offsets at which the event stands alone in the reference, away from its edges where it is long enough. */
  readonly core: readonly Frames[];
  /** All offsets at which it stands alone, its edges too, which a moved cut may have taken; the core alone where left out. */
  readonly alone?: readonly Frames[];
  readonly length: Frames;
  reference(offset: Frames): Luma | null;
  /** The picture of a source frame, laid as the list lays it at an offset; null where the original has none. */
  source(frame: Frames, offset: Frames): Luma | null;
  /** The same picture, coarse (`coarse`), where it is known already; made here where left out. */
  coarse?(frame: Frames): Float32Array | null;
  /** The prints of the original, for places far from the list's; null where it is not laid as prints are. */
  prints?(): Int8Array | null;
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
  /** True where it is laid otherwise from offset to offset. */
  readonly moving?: boolean;
  readonly mask: Mask;
}

/** At or above this agreement it is the picture. Unrelated pictures stay below 0.2 (docs/proof.md). */
export const FOUND = 0.45;
/** Below this agreement it is worth looking for another place of the picture in the frame. */
export const WORTH_PLACING = 0.75;
/** How far around a place a source is searched, each way, and how many lengths of the event beside: the fastest speed leads no further. */
const [NEAR, LENGTHS]: readonly [Frames, number] = [96, 2];
/** How far a source is searched that is laid otherwise, each way, and where there are no prints. */
const REACH: Frames = 3000;
/** Runs of pictures that are looked for among prints, and places of those that are looked at. */
const [RUNS, FAR_PLACES] = [4, 2];
/** Pictures that take part in a search, in climbing to the exact frame, and in telling how well that agrees. */
const [SEARCHED, CLIMBED, TOLD] = [14, 16, 48];
/** The same where a picture is laid anew for each of them. */
const TOLD_MOVING = 20;

/** At most `most` of some things, spread evenly. */
export function spread<T>(all: readonly T[], most: number): T[] {
  const count = Math.min(all.length, most);
  return Array.from({ length: count }, (_, i) => all[Math.floor(((i + 0.5) * all.length) / count)] as T);
}

/** A picture of the reference that takes part in telling. */
export interface Told {
  readonly offset: Frames;
  readonly luma: Luma;
  readonly fine: Float32Array;
}

export const toldOf = (p: EventPictures, offsets = p.core): Told[] =>
  spread(offsets, p.moving ? TOLD_MOVING : TOLD).flatMap((offset) => {
    const luma = p.reference(offset);
    return luma ? [{ offset, luma, fine: comparable(luma, p.mask) }] : [];
  });

/** The comparable pictures of an event's source, laid in one way; made when they are asked for. */
function sources(p: EventPictures, laid: Laid) {
  const fine = new Map<string | Frames, Float32Array | null>();
  return {
    luma: (n: Frames, offset: Frames) => {
      const luma = p.source(n, offset);
      return luma && warped(luma, laid);
    },
    coarse(n: Frames, offset: Frames) {
      if (p.coarse && !p.moving && isAsItIs(laid)) return p.coarse(n);
      const luma = this.luma(n, offset);
      return luma && coarse(luma, p.mask);
    },
    fine(n: Frames, offset: Frames): Float32Array | null {
      const key = p.moving ? `${n} ${offset}` : n;
      const known = fine.get(key);
      if (known !== undefined) return known;
      const luma = this.luma(n, offset);
      const made = luma && comparable(luma, p.mask);
      fine.set(key, made);
      return made;
    },
  };
}

type FrameAt = (offset: Frames) => Frames;

/** What runs where, for one way of laying the source. */
export interface SourceRun {
  readonly laid: Laid;
  readonly slip: Frames;
  readonly line: Line | null;
  /** Where its speed changes on the way. */
  readonly knots?: readonly Knot[] | null;
  readonly score: number;
}

/** Where a source runs: aside from the list's place, along a line, or through knots. */
export type Course = Pick<SourceRun, 'line' | 'slip' | 'knots'>;

/** The source frame that a run puts at an offset. */
export const frameOfRun = ({ line, slip, knots }: Course, expected: EventPictures['expected'], offset: Frames): Frames =>
  knots ? frameThrough(knots, offset) : line ? frameOn(line, offset) : expected(offset) + slip;

/** Finds runs of an event's source, laid in any way. */
export interface SourceRuns {
  /** The best run of the source where it is laid in one way. */
  runFor(laid: Laid): SourceRun;
  /** The same run with a speed that changes on the way, where that explains the pictures clearly better; else as it was. */
  keyed(run: SourceRun): SourceRun;
  /** Agreement picture by picture where the source, laid in one way, stands at `frameAt`; -1 where it has no frame. */
  along(laid: Laid, frameAt: FrameAt): number[];
}

export function sourceRunsOf(p: EventPictures, told: readonly Told[]): SourceRuns {
  const searched = spread(told, SEARCHED);
  const searchedCoarse = searched.map((t) => coarse(t.luma, p.mask));
  const middle = p.expected(searched[searched.length >> 1]?.offset ?? 0);

  const laidSources = new Map<Laid, ReturnType<typeof sources>>();
  /** The pictures of one way of laying, which several questions ask for, made once. */
  const sourcesOf = (laid: Laid) => {
    const known = laidSources.get(laid) ?? sources(p, laid);
    laidSources.set(laid, known);
    return known;
  };
  /** Agreement frame by frame where a run puts the source; -1 where it has no frame. */
  const along = (laid: ReturnType<typeof sources>, frameAt: FrameAt, pictures = told): number[] =>
    pictures.map(({ offset, fine }) => {
      const picture = laid.fine(frameAt(offset), offset);
      return picture ? agreement(fine, picture) : -1;
    });
  const few = spread(told, CLIMBED);

  /** The best run in a table of one way of laying. */
  const runIn = (laid: Laid, table: Table, asListed: number): SourceRun => {
    const s = sourcesOf(laid);
    const score = (frameAt: FrameAt) => meanOf(along(s, frameAt));
    const atSlip = (d: Frames) => score((k) => p.expected(k) + d);
    let best = { slip: 0, score: asListed };
    const slips = slipsOf(table, p.expected);
    for (const { frames } of slips) {
      // A few pictures lead to its neighbourhood, all of them to the frame.
      const near = climbed(frames, (d) => meanOf(along(s, (k) => p.expected(k) + d, few)));
      const here = climbed(near.slip, atSlip);
      if (here.score > best.score + 1e-9) best = here;
    }
    const atFrames = (run: Pick<SourceRun, 'line' | 'slip'>) => along(s, (k) => frameOfRun(run, p.expected, k));
    // Where movement repeats itself, the conform's own place stands unless another is surely better.
    const plainly = atSlip(0);
    if (best.slip !== 0 && plainly >= FOUND && !isClearly(atFrames({ line: null, slip: best.slip }), atFrames({ line: null, slip: 0 })))
      best = { slip: 0, score: plainly };
    const slipped: SourceRun = { laid, line: null, ...best };
    if (p.length < SHORTEST_LINE || (best.slip === 0 && isEven(atFrames(slipped)))) return slipped;
    const coarseLine = bestLine(table, p.length);
    const lines = [
      ...(coarseLine && coarseLine.score >= (slips[0]?.score ?? -1) - AS_COARSE ? [coarseLine as Line] : []),
      ...(best.score >= FOUND && !p.moving ? linesThrough(p, best.slip) : []),
    ].filter((line) => Math.abs(line.speed - p.speed) * p.length >= LEAST_DRIFT);
    const [likeliest] = lines
      .map((line) => ({ line, value: score((k) => frameOn(line, k)) }))
      .sort((one, other) => other.value - one.value);
    if (!likeliest || likeliest.value < best.score - LIKELY) return slipped;
    const fit = finerLine(likeliest.line, p.length, score);
    const run: SourceRun = { laid, slip: 0, line: { start: fit.start, speed: fit.speed }, score: fit.score };
    const drift = Math.abs(fit.speed - p.speed) * p.length;
    if (drift < LEAST_DRIFT || fit.score < best.score + BETTER_LINE) return slipped;
    const [running, standing] = [atFrames(run), atFrames(slipped)];
    return isClearly(running, standing) || isSteadilyBetter(running, standing) ? run : slipped;
  };

  const runFor = (laid: Laid): SourceRun => {
    const s = sourcesOf(laid);
    const listed: SourceRun = { laid, line: null, slip: 0, score: meanOf(along(s, p.expected)) };
    if (p.still) return listed;
    const tableAround = (at: Frames, reach: Frames): Table =>
      tableOf(
        searched.map((t) => t.offset),
        searchedCoarse,
        Math.max(0, at - reach),
        Math.min(p.sourceFrames, at + reach),
        s.coarse.bind(s),
        p.moving,
      );
    const near = p.moving ? p.length : NEAR + LENGTHS * p.length;
    let found = runIn(laid, tableAround(middle, near), listed.score);
    if (found.score >= WORTH_PLACING || p.sourceFrames <= 2 * near) return found;
    // Nothing near: the whole of the original is looked through.
    const prints = isAsItIs(laid) ? (p.prints?.() ?? null) : null;
    const far = prints ? farPlaces(p, prints).map((slip) => tableAround(middle + slip, near)) : [tableAround(middle, REACH)];
    for (const table of far) {
      const one = runIn(laid, table, listed.score);
      if (one.score > found.score) found = one;
    }
    return found;
  };
  const keyedBy = (pictures: readonly Told[], run: SourceRun, atEdges: boolean): SourceRun | null => {
    const s = sourcesOf(run.laid);
    const straight: FrameAt = (k) => frameOfRun(run, p.expected, k);
    const found = keyedRun(
      pictures.map((t) => t.offset),
      straight,
      (i, n) => {
        const { offset, fine } = pictures[i] as Told;
        const picture = s.fine(n, offset);
        return picture ? agreement(fine, picture) : -1;
      },
      atEdges,
    );
    return found && found.score >= FOUND ? { ...run, line: null, slip: 0, knots: found.knots, score: found.score } : null;
  };
  /** Its edges too, where a speed leads furthest aside: those that another picture has taken agree with no frame, and say nothing. */
  let whole: Told[] | null = null;
  const keyed = (run: SourceRun): SourceRun => {
    if (p.still || p.length < SHORTEST_KEYED) return run;
    const inside = keyedBy(told, run, false);
    if (inside || !p.alone || run.score < FOUND) return inside ?? run;
    whole ??= toldOf(p, p.alone.slice(OUTERMOST, -OUTERMOST));
    return keyedBy(whole, run, true) ?? run;
  };
  return { runFor, keyed, along: (laid, frameAt) => along(sourcesOf(laid), frameAt) };
}

/** Slips, far from the list's place, at which prints agree with runs of the event's pictures. */
function farPlaces(p: EventPictures, prints: Int8Array): Frames[] {
  const runs = runsAsListed(spread(p.core, RUNS), p.expected, p.reference, p.mask);
  return placesIn(runs, prints, FAR_PLACES).map((spot) => spot.frame);
}

/** Speeds that editors choose, as factors: where coarse pictures are too dark or still to tell one, these are tried. */
const USUAL_SPEEDS = [-2, -1, -0.5, 0, 0.25, 0.5, 0.75, 0.8, 0.9, 1, 1.1, 1.25, 1.5, 2, 3];

/** By how much less the ends of an event may agree than its middle. */
const UNEVEN = 0.004;
/** Frames at either edge that are never asked, where coding mixes neighbours. */
const OUTERMOST: Frames = 2;
/** Events shorter than this have no speed that could be told to change on the way. */
const SHORTEST_KEYED: Frames = 24;

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

/** The slip at which pictures agree best, a few steps from one that was found coarsely. */
function climbed(from: Frames, at: (slip: Frames) => number): { slip: Frames; score: number } {
  let here = { slip: from, score: at(from) };
  for (let steps = 0; steps < 4; steps++) {
    const next = [here.slip - 1, here.slip + 1].map((slip) => ({ slip, score: at(slip) })).sort((a, b) => b.score - a.score)[0];
    if (!next || next.score <= here.score) break;
    here = next;
  }
  return here;
}

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
    USUAL_SPEEDS.reduce((near, speed) => (Math.abs(speed - best.speed) < Math.abs(near - best.speed) ? speed : near)),
  ];
  let simplest: Line & { score: number } = best;
  for (const speed of whole) {
    const one = climbed(valued(through(speed, middleOf(best))), [0]);
    if (one.score >= best.score - Math.max(NOTHING, AS_GOOD * (1 - best.score))) simplest = one;
  }
  return simplest;
}

/** A rounder speed stands where it leaves no more than this much more unexplained, as a share, or nothing that could be seen. */
const [AS_GOOD, NOTHING] = [0.03, 0.0002];
