import { coarseRelief, relief as fineRelief, type Luma, type Mask } from '../proof';
import type { Frames } from '../time';
import { BLANK, type Change } from './change';

/** What goes over slowly: from `frame` on, for `frames` frames, on each of which both sides are seen. */
export interface Passing {
  readonly kind: 'dissolve' | 'fade-out' | 'fade-in';
  readonly frame: Frames;
  readonly frames: Frames;
  /** How sure it is, 0..1. */
  readonly score: number;
}

/** Lengths that are tried, in frames; those between are found from the nearest. */
const LENGTHS: readonly Frames[] = [4, 6, 8, 10, 12, 16, 20, 24, 30, 36, 48, 60, 72, 90];
/** Frames from one middle that is tried to the next. */
const STEP: Frames = 3;
/** Both ends must have so little in common, 0..2, and mixes of them explain so much of what lies between. */
const [APART, EXPLAINED] = [0.75, 0.42];
/** Mixes are flatter than what they are made of, movement or not: so many times the squares of a true mix may be seen. */
const FLAT = 1.25;
/** How far shares may lie from an even ramp, as a mean square. */
const MISFIT = 0.035;
/** Frames of a ramp that are looked at. */
const LOOKED_AT = 9;

interface Ramp {
  readonly frame: Frames;
  readonly frames: Frames;
  readonly score: number;
}

/**
 * Finds dissolves: stretches in which every picture is a mix of what stands before and after, ever more of the latter. A camera
 * that moves leads from one picture to another too, but what it shows between is no flatter than either.
 */
export function dissolvesIn(frames: Frames, cuts: readonly Frames[], picture: (n: Frames) => Luma, mask: Mask): Passing[] {
  const coarsely = heldPictures((n) => coarseRelief(picture(n), mask));
  const relief = heldPictures((n) => fineRelief(picture(n), mask));
  const bounds = [0, ...cuts, frames];
  const found: Ramp[] = [];
  let shot = 0;
  for (let middle = STEP; middle < frames; middle += STEP) {
    while ((bounds[shot + 1] as Frames) <= middle) shot++;
    const [from, until] = [bounds[shot] as Frames, bounds[shot + 1] as Frames];
    let best: Ramp | null = null;
    for (const length of LENGTHS) {
      const one = { frame: middle - (length >> 1), frames: length };
      if (one.frame - 1 < from || one.frame + length >= until) break;
      if (!mayBe(one, coarsely)) continue;
      const score = scoreOf(one, relief);
      if (score > (best?.score ?? 0)) best = { ...one, score };
    }
    if (!best) continue;
    const finer = climbed(best, from, until, relief);
    const [last] = found.slice(-1);
    if (!last || finer.frame >= last.frame + last.frames) found.push(finer);
    else if (finer.score > last.score) found[found.length - 1] = finer;
  }
  return found.map((f) => ({ kind: 'dissolve', ...f }));
}

/** Pictures around the place that is looked at; those far behind are let go. */
function heldPictures<T>(make: (n: Frames) => T): (n: Frames) => T {
  const held = new Map<Frames, T>();
  return (n) => {
    const known = held.get(n);
    if (known) return known;
    const made = make(n);
    held.set(n, made);
    if (held.size > MOST_HELD) for (const m of held.keys()) if (m < n - MOST_HELD / 2) held.delete(m);
    return made;
  };
}

const MOST_HELD = 512;

type Relief = (n: Frames) => Float32Array;

/** What is seen at a frame as a mix of both ends, and how flat that is beside a true mix of its share. */
interface Seen {
  readonly share: number;
  readonly explained: number;
  readonly flatness: number;
}

/** Squares and products of both ends, which all frames between are held against. */
function endsOf({ frame, frames }: Pick<Ramp, 'frame' | 'frames'>, relief: Relief) {
  const [a, b] = [relief(frame - 1), relief(frame + frames)];
  const [aa, bb, ab] = [dot(a, a), dot(b, b), dot(a, b)];
  const apart = aa > 0 && bb > 0 ? 1 - ab / Math.sqrt(aa * bb) : 0;
  const seen = (n: Frames): Seen => {
    const r = relief(n);
    const [rr, ra, rb] = [dot(r, r), dot(r, a), dot(r, b)];
    const determinant = aa * bb - ab * ab;
    if (determinant <= 0 || rr === 0) return { share: 0, explained: 0, flatness: 2 };
    const u = Math.max(0, (ra * bb - rb * ab) / determinant);
    const v = Math.max(0, (rb * aa - ra * ab) / determinant);
    const even = (n - frame + 1) / (frames + 1);
    const mixed = (1 - even) ** 2 * aa + even ** 2 * bb + 2 * even * (1 - even) * ab;
    return { share: u + v > 0.05 ? v / (u + v) : 0, explained: Math.min(1, (u * ra + v * rb) / rr), flatness: rr / mixed };
  };
  return { apart, blank: Math.min(aa, bb) < LEAST * a.length, seen };
}

/** Mean square of a relief, in code values, below which there is nothing to mix. */
const LEAST = 1;

function dot(a: Float32Array, b: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i] as number) * (b[i] as number);
  return sum;
}

/** A quick look at the middle: most places are no dissolve of any length. */
function mayBe(ramp: Pick<Ramp, 'frame' | 'frames'>, relief: Relief): boolean {
  const { apart, blank, seen } = endsOf(ramp, relief);
  if (blank || apart < APART) return false;
  const { share, explained, flatness } = seen(ramp.frame + (ramp.frames >> 1));
  return share > 0.2 && share < 0.8 && explained > 0.35 && flatness < FLAT + 0.2;
}

/** How sure a dissolve is over these very frames, 0..1; 0 where it is none. */
function scoreOf(ramp: Pick<Ramp, 'frame' | 'frames'>, relief: Relief): number {
  const { apart, blank, seen } = endsOf(ramp, relief);
  if (blank || apart < APART) return 0;
  const looks = Math.min(LOOKED_AT, ramp.frames);
  let [misfit, explained, flatness] = [0, 0, 0];
  for (let i = 0; i < looks; i++) {
    const into = Math.floor(((i + 0.5) * ramp.frames) / looks);
    const one = seen(ramp.frame + into);
    misfit += (one.share - (into + 1) / (ramp.frames + 1)) ** 2 / looks;
    explained += one.explained / looks;
    flatness += one.flatness / looks;
  }
  if (misfit > MISFIT || explained < EXPLAINED || flatness > FLAT) return 0;
  return Math.min(1, apart * explained * (1 - misfit / MISFIT / 2));
}

/** The dissolve to the frame: both ends moved while that makes it surer. */
function climbed(from: Ramp, first: Frames, until: Frames, relief: Relief): Ramp {
  let best = from;
  for (const step of [4, 2, 1])
    for (let rounds = 0; rounds < 6; rounds++) {
      const around = [
        [step, 0],
        [-step, 0],
        [0, step],
        [0, -step],
        [step, -step],
        [-step, step],
      ].map(([at, by]) => ({ frame: best.frame + (at as number), frames: best.frames + (by as number) }));
      const better = around
        .filter((r) => r.frames >= SHORTEST && r.frame - 1 >= first && r.frame + r.frames < until)
        .map((r) => ({ ...r, score: scoreOf(r, relief) }))
        .sort((a, b) => b.score - a.score)[0];
      if (!better || better.score <= best.score) break;
      best = better;
    }
  return best;
}

const SHORTEST: Frames = 3;

const LONGEST_FADE: Frames = 72;
/** How far the spread may lie from an even fade, as a mean square of its share. */
const UNEVEN = 0.012;

/** Finds where pictures fade to black or out of it: their spread falls or rises evenly. */
export function fadesIn({ spread }: Change): Passing[] {
  const found: Passing[] = [];
  for (let n = 0; n < spread.length; n++) {
    if ((spread[n] as number) >= BLANK) continue;
    let end = n;
    while (end + 1 < spread.length && (spread[end + 1] as number) < BLANK) end++;
    const out = fadeFrom(n, -1, spread);
    if (out) found.push({ ...out, kind: 'fade-out', frame: out.last, frames: out.first - out.last + 1 });
    const into = fadeFrom(end, 1, spread);
    if (into) found.push({ ...into, kind: 'fade-in', frame: into.first, frames: into.last - into.first + 1 });
    n = end;
  }
  return found;
}

/** The fade that goes on from a blank frame, one way; its first and last frame on which something changes. */
function fadeFrom(blank: Frames, way: 1 | -1, spread: Float32Array): { first: Frames; last: Frames; score: number } | null {
  let best: { first: Frames; last: Frames; score: number; error: number } | null = null;
  // A fade is nearly black before it is black.
  for (let start = blank - way * 4; start !== blank + way * 2; start += way)
    for (let length = SHORTEST; length <= LONGEST_FADE; length++) {
      const full = spread[start + way * (length + 1)];
      if (full === undefined || spread[start] === undefined) break;
      if (full < BLANK * 3) continue;
      let error = 0;
      // The frames beside it count too: black stays black, and the picture as it is.
      for (let k = -2; k <= length + 4; k++) {
        const seen = spread[start + way * k];
        if (seen === undefined) continue;
        const wanted = Math.min(1, Math.max(0, k / (length + 1)));
        error += (Math.min(1.5, seen / full) - wanted) ** 2;
      }
      error /= length + 7;
      if (!best || error < best.error - 1e-6)
        best = { first: start + way, last: start + way * length, score: 1 - error / UNEVEN / 2, error };
    }
  return best && best.error < UNEVEN && (spread[best.last] as number) >= BLANK ? best : null;
}
