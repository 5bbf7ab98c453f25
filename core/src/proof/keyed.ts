import type { Frames } from '../time';
import { isClearly, isSteadilyBetter, meanOf } from './lines';
import { solution } from './solution';

/** One point of a speed that changes on the way: at a record offset stands a source frame, a fraction where between two. */
export interface Knot {
  readonly offset: Frames;
  readonly frame: number;
}

/** Where in the source a run through knots is at an offset, in frames; beyond them it goes on as between the two nearest. */
export function placeThrough(knots: readonly Knot[], offset: Frames): number {
  let at = 1;
  while (at < knots.length - 1 && (knots[at] as Knot).offset < offset) at++;
  const [a, b] = [knots[at - 1] as Knot, knots[at] as Knot];
  return a.frame + ((b.frame - a.frame) * (offset - a.offset)) / (b.offset - a.offset);
}

/** The source frame that stands there. */
export const frameThrough = (knots: readonly Knot[], offset: Frames): Frames => Math.floor(placeThrough(knots, offset) + 1e-6);

/** How far from the straight run a source may stand, each way, and the fastest it may go on the way, in frames a frame. */
const [ASIDE, FASTEST]: readonly [Frames, number] = [30, 5];
/** What a frame of another speed than that of the straight run costs, as a share of what that leaves unexplained, and at the most: pictures that hardly differ follow it. */
const [COST, MOST_COST] = [0.04, 0.0015];

/**
 * The way through the source on which pictures agree best, offset by offset, as the frames it takes (Viterbi): `agreed` tells how
 * the picture at the i-th offset agrees with a source frame, -1 where there is none; `straight` is the run that it departs from.
 */
function bestPath(
  offsets: readonly Frames[],
  straight: (offset: Frames) => Frames,
  agreed: (i: number, frame: Frames) => number,
  cost: number,
): Frames[] {
  const wide = 2 * ASIDE + 1;
  let before = new Float64Array(wide);
  const from: Int16Array[] = [];
  for (let i = 0; i < offsets.length; i++) {
    const centre = straight(offsets[i] as Frames);
    const here = new Float64Array(wide).fill(Number.NEGATIVE_INFINITY);
    const back = new Int16Array(wide);
    const gap = i === 0 ? 0 : (offsets[i] as Frames) - (offsets[i - 1] as Frames);
    const moved = i === 0 ? 0 : centre - straight(offsets[i - 1] as Frames);
    for (let s = 0; s < wide; s++) {
      const value = agreed(i, centre + s - ASIDE);
      if (i === 0) {
        here[s] = value;
        continue;
      }
      for (let t = 0; t < wide; t++) {
        // How far it went beyond what the straight run goes.
        const more = s - t;
        if (Math.abs(moved + more) > FASTEST * gap) continue;
        const total = (before[t] as number) + value - cost * Math.abs(more);
        if (total <= (here[s] as number)) continue;
        here[s] = total;
        back[s] = t;
      }
    }
    before = here;
    from.push(back);
  }
  let at = before.indexOf(Math.max(...before));
  const frames: Frames[] = [];
  for (let i = offsets.length - 1; i >= 0; i--) {
    frames[i] = straight(offsets[i] as Frames) + at - ASIDE;
    at = from[i]?.[at] ?? at;
  }
  return frames;
}

/** The most speeds that one event has, and how far the frames of a way may lie from them, root mean square. */
const [SPEEDS, OFF] = [3, 0.8];
/** Each speed must hold for so many of the offsets. */
const HOLDS = 5;

/** Lines that meet at knots and lie nearest to the frames of a way, the fewest that do; null where three do not. */
function knotsThrough(offsets: readonly Frames[], frames: readonly Frames[]): Knot[] | null {
  for (let speeds = 2; speeds <= SPEEDS; speeds++) {
    let best: { knots: Knot[]; off: number } | null = null;
    for (const inner of innerKnots(offsets.length, speeds - 1)) {
      const at = [0, ...inner, offsets.length - 1].map((i) => offsets[i] as Frames);
      const one = fitted(offsets, frames, at);
      if (one && (!best || one.off < best.off)) best = one;
    }
    if (best && best.off <= OFF) return best.knots;
  }
  return null;
}

/** Where knots may lie between the first and the last. */
function* innerKnots(length: number, many: number): Generator<number[]> {
  for (let a = HOLDS; a < length - HOLDS; a++) {
    if (many === 1) yield [a];
    else for (let b = a + HOLDS; b < length - HOLDS; b++) yield [a, b];
  }
}

/** Frames at knots of given offsets that lie nearest to the frames of a way, by least squares over hat functions. */
function fitted(offsets: readonly Frames[], frames: readonly Frames[], at: readonly Frames[]): { knots: Knot[]; off: number } | null {
  const many = at.length;
  const rows = Array.from({ length: many }, () => new Float64Array(many + 1));
  const hats = (offset: Frames): [number, number] => {
    let k = 1;
    while (k < many - 1 && (at[k] as Frames) < offset) k++;
    const [a, b] = [at[k - 1] as Frames, at[k] as Frames];
    return [k, (offset - a) / (b - a)];
  };
  offsets.forEach((offset, i) => {
    const [k, share] = hats(offset);
    const parts: [number, number][] = [
      [k - 1, 1 - share],
      [k, share],
    ];
    for (const [p, x] of parts) {
      const row = rows[p] as Float64Array;
      for (const [q, y] of parts) row[q] = (row[q] as number) + x * y;
      row[many] = (row[many] as number) + x * ((frames[i] as number) + 0.5);
    }
  });
  const values = solution(rows);
  if (!values) return null;
  let square = 0;
  offsets.forEach((offset, i) => {
    const [k, share] = hats(offset);
    square += ((values[k - 1] as number) * (1 - share) + (values[k] as number) * share - (frames[i] as number) - 0.5) ** 2;
  });
  return { knots: at.map((offset, i) => ({ offset, frame: values[i] as number })), off: Math.sqrt(square / offsets.length) };
}

/** How much of what a straight run leaves unexplained must be gone, as a share, and how much better its best third must agree than its worst. */
const [BETTER, APART] = [0.2, 0.3];
/** The least and the most that is asked of either, in agreement. */
const [LEAST, MOST_BETTER, MOST_APART] = [0.0005, 0.01, 0.02];

/** How much of what is unexplained must be gone where the parts that gain are few: a picture that hardly moves follows its noise. */
const STEADY_GAIN = 0.4;

/** How much better one third agrees than another. */
function partsApart(values: readonly number[]): number {
  const third = Math.floor(values.length / 3);
  const parts = [0, third, values.length - third].map((from) => meanOf(values.slice(from, from + third)));
  return Math.max(...parts) - Math.min(...parts);
}

/** Frames by which a way must lead aside of a straight one between its ends; less is a straight run that was told a little off. */
const BENT = 1;

function isBent(knots: readonly Knot[]): boolean {
  const ends = [knots[0] as Knot, knots.at(-1) as Knot];
  return knots.some(({ offset, frame }) => Math.abs(frame - placeThrough(ends, offset)) >= BENT);
}

/**
 * A speed that changes on the way, where it explains pictures clearly better than a straight run does; null where it does not.
 * `atEdges`: the offsets reach to where a neighbour may begin, which leads astray at one end, as a speed does at both.
 */
export function keyedRun(
  offsets: readonly Frames[],
  straight: (offset: Frames) => Frames,
  agreed: (i: number, frame: Frames) => number,
  atEdges = false,
): { readonly knots: readonly Knot[]; readonly score: number } | null {
  if (offsets.length < 2 * HOLDS + 2) return null;
  const along = (frameAt: (offset: Frames) => Frames) => offsets.map((offset, i) => agreed(i, frameAt(offset)));
  const straightly = along(straight);
  const left = 1 - meanOf(straightly);
  if (partsApart(straightly) < Math.max(LEAST, Math.min(MOST_APART, APART * left))) return null;
  const knots = knotsThrough(offsets, bestPath(offsets, straight, agreed, Math.min(MOST_COST, COST * left)));
  if (!knots || !isBent(knots)) return null;
  const astray = (offset: Frames) => Math.abs(frameThrough(knots, offset) - straight(offset)) >= BENT;
  if (atEdges && !(astray(offsets[0] as Frames) && astray(offsets.at(-1) as Frames))) return null;
  const keyed = along((k) => frameThrough(knots, k));
  const score = meanOf(keyed);
  if (score <= 1 - left + Math.max(LEAST, Math.min(MOST_BETTER, BETTER * left))) return null;
  const gained = score - 1 + left;
  const steadily = gained >= STEADY_GAIN * left && isSteadilyBetter(keyed, straightly);
  return steadily || isClearly(keyed, straightly) ? { knots, score } : null;
}
