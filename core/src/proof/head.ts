import { FILLS_ALL, type FrameFit } from '../conform';
import type { Frames } from '../time';
import { agreement, coarse, GRID, GRID_SIZE, type Luma, type Mask, wholeMask } from './pictures';
import { AS_IT_IS, agreementLaid, type Match, refined, stretchOf } from './warp';

/** The small pictures of a reference before it is known where in it the picture lies: its whole frame, twice as large as the grid. */
export const NATIVE = { width: 192, height: 108 } as const;
export const NATIVE_SIZE = NATIVE.width * NATIVE.height;

/** A part of a frame, in shares, right and bottom exclusive. */
export interface Bounds {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** How much of the input's points goes into each point of the output along one side: `count` that follow each other, from `first` on. */
interface Taps {
  readonly count: number;
  readonly first: Uint16Array;
  readonly weights: Float32Array;
}

/** Two samples within a point, each between two of the input's, as areas are averaged when pictures are made small. */
function tapsOf(offset: number, length: number, input: number, output: number): Taps {
  const step = (length * input) / output;
  const count = Math.min(input, Math.ceil(step / 2) + 2);
  const first = new Uint16Array(output);
  const weights = new Float32Array(output * count);
  for (let i = 0; i < output; i++) {
    const at = [0.25, 0.75].map((part) => offset * input + (i + part) * step - 0.5);
    const inside = at.filter((p) => p >= -0.5 && p <= input - 0.5);
    const low = Math.min(...inside.map((p) => Math.floor(Math.max(0, p))), input - count);
    first[i] = Math.max(0, low);
    for (const p of inside) {
      const from = Math.min(input - 2, Math.max(0, Math.floor(p)));
      const part = Math.min(1, Math.max(0, p - from));
      const into = i * count + from - (first[i] as number);
      weights[into] = (weights[into] as number) + (1 - part) / 2;
      weights[into + 1] = (weights[into + 1] as number) + part / 2;
    }
  }
  return { count, first, weights };
}

const made = new WeakMap<FrameFit, { readonly across: Taps; readonly down: Taps }>();
const narrow = new Float32Array(GRID.width * NATIVE.height);

/** A picture of the reference brought to the frame of the cut; black where the reference has nothing. */
export function rectified(native: Uint8Array, fit: FrameFit): Luma {
  const taps = made.get(fit) ?? {
    across: tapsOf(fit.left, fit.width, NATIVE.width, GRID.width),
    down: tapsOf(fit.top, fit.height, NATIVE.height, GRID.height),
  };
  made.set(fit, taps);
  narrowed(native, taps.across);
  return lowered(taps.down);
}

/** Across: from the columns of the reference to those of the grid. */
function narrowed(native: Uint8Array, { count, first, weights }: Taps): void {
  const [{ width }, { width: wide, height }, into] = [GRID, NATIVE, narrow];
  for (let y = 0; y < height; y++) {
    const [row, to] = [y * wide, y * width];
    for (let x = 0, w = 0; x < width; x++) {
      const from = row + (first[x] as number);
      let sum = 0;
      for (let n = from; n < from + count; n++, w++) sum += (native[n] as number) * (weights[w] as number);
      into[to + x] = sum;
    }
  }
}

/** Down: from the rows of the reference to those of the grid. */
function lowered({ count, first, weights }: Taps): Luma {
  const [{ width, height }, from] = [GRID, narrow];
  const out = new Float32Array(GRID_SIZE);
  for (let y = 0, w = 0; y < height; y++) {
    const to = y * width;
    for (let k = 0; k < count; k++, w++) {
      const weight = weights[w] as number;
      const row = ((first[y] as number) + k) * width;
      for (let x = 0; x < width; x++) out[to + x] = (out[to + x] as number) + (from[row + x] as number) * weight;
    }
  }
  return out;
}

/** Above video black (16) with room for noise and compression. */
const BLACK = 30;
/** A line belongs to the picture when it is not black in so many of the frames. */
const OFTEN = 0.1;

/**
 * The picture between black bars: from the middle outward, until a row or column is black in nearly every frame. A burn-in
 * printed on a bar does not make it picture. With less than a twelfth of the frame left, the whole is used.
 */
export function pictureBox(frames: readonly Uint8Array[]): Bounds {
  const rows = new Float64Array(NATIVE.height);
  const columns = new Float64Array(NATIVE.width);
  for (const frame of frames) {
    const row = new Uint8Array(NATIVE.height);
    const column = new Uint8Array(NATIVE.width);
    for (let y = 0, at = 0; y < NATIVE.height; y++)
      for (let x = 0; x < NATIVE.width; x++, at++) {
        if ((frame[at] as number) <= BLACK) continue;
        row[y] = 1;
        column[x] = 1;
      }
    for (let y = 0; y < rows.length; y++) rows[y] = (rows[y] as number) + (row[y] as number);
  }
  const needed = OFTEN * frames.length;
  const [top, bottom] = run(rows, needed);
  // A burn-in below the picture is no part of its columns.
  for (const frame of frames) {
    const column = new Uint8Array(NATIVE.width);
    for (let y = top; y < bottom; y++)
      for (let x = 0; x < NATIVE.width; x++) if ((frame[y * NATIVE.width + x] as number) > BLACK) column[x] = 1;
    for (let x = 0; x < columns.length; x++) columns[x] = (columns[x] as number) + (column[x] as number);
  }
  const [left, right] = run(columns, needed);
  if ((bottom - top) * (right - left) * 12 < NATIVE_SIZE) return { left: 0, top: 0, right: 1, bottom: 1 };
  return { left: left / NATIVE.width, top: top / NATIVE.height, right: right / NATIVE.width, bottom: bottom / NATIVE.height };
}

function run(counts: Float64Array, needed: number): [number, number] {
  const middle = counts.length >> 1;
  let [from, to] = [middle, middle];
  while (from > 0 && (counts[from - 1] as number) > needed) from--;
  while (to < counts.length && (counts[to] as number) > needed) to++;
  return [from, to];
}

/** The ways in which the frame of the cut may lie in a reference, from the picture that is seen in it. Shapes are width over height. */
export function likelyFits(box: Bounds, cutShape: number, referenceShape: number): FrameFit[] {
  const centred = (cx: number, cy: number, width: number, height: number): FrameFit => ({
    left: cx - width / 2,
    top: cy - height / 2,
    width,
    height,
  });
  const tall = (width: number) => (width * referenceShape) / cutShape;
  const wide = (height: number) => (height * cutShape) / referenceShape;
  const [cx, cy] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
  const [w, h] = [box.right - box.left, box.bottom - box.top];
  const all = [
    centred(0.5, 0.5, 1, tall(1)),
    centred(0.5, 0.5, wide(1), 1),
    centred(cx, cy, w, tall(w)),
    centred(cx, cy, wide(h), h),
    FILLS_ALL,
    { left: box.left, top: box.top, width: w, height: h },
  ];
  const alike = (a: FrameFit, b: FrameFit) =>
    Math.abs(a.left - b.left) + Math.abs(a.top - b.top) + Math.abs(a.width - b.width) + Math.abs(a.height - b.height) < 0.02;
  return all.filter((fit, i) => !all.slice(0, i).some((other) => alike(fit, other)));
}

/** How far inside the box a point must lie, in points of the reference's small picture: its sides are told to one of them, and a point of the grid takes from the next. */
const EDGE = 1.6;

/** The points of the grid at which a fitted reference shows picture, one point away from what is left out. */
export function maskOf(box: Bounds, fit: FrameFit): Mask {
  const mask = wholeMask();
  const margin = { x: EDGE / NATIVE.width, y: EDGE / NATIVE.height };
  const inside = (v: number, low: number, high: number, m: number) =>
    v >= (low > 0.001 ? low + m : low) && v <= (high < 0.999 ? high - m : high);
  for (let y = 0, at = 0; y < GRID.height; y++)
    for (let x = 0; x < GRID.width; x++, at++) {
      const [l, r] = [fit.left + (x / GRID.width) * fit.width, fit.left + ((x + 1) / GRID.width) * fit.width];
      const [t, b] = [fit.top + (y / GRID.height) * fit.height, fit.top + ((y + 1) / GRID.height) * fit.height];
      const seen = inside(l, box.left, box.right, margin.x) && inside(r, box.left, box.right, margin.x);
      if (!seen || !inside(t, box.top, box.bottom, margin.y) || !inside(b, box.top, box.bottom, margin.y)) mask[at] = 0;
    }
  return mask;
}

/** A picture of the conform by itself: where it stands from the cut's first frame on. */
export interface Probe {
  readonly at: Frames;
  readonly luma: Luma;
}

export interface Laying {
  readonly fit: FrameFit;
  /** Frame of the reference, from 0, that shows the cut's first frame; negative where it begins later. */
  readonly head: Frames;
  /** Mean agreement of the better half of the probes: how sure it is. */
  readonly score: number;
  /** Frame of the reference that shows each probe best: events may have slipped. */
  readonly shown: readonly Frames[];
}

/** By how much better another frame must agree for an event to have slipped. */
const SLIPS = 0.02;
/** How far an event may have slipped and still tell how the reference lies, each way. */
const SLIPPED: Frames = 24;
/** Another fit must agree by so much more than one that is likelier by its shape. */
const LIKELIER = 0.03;
/** Another head must agree by so much more than the likeliest. */
const PREFERRED = 0.004;
/** Above this agreement a reference shows something of the cut: unrelated pictures stay below (docs/proof.md). */
const SHOWS = 0.3;

/**
 * Finds how a reference lies: which of its frames is the cut's first, and where in it the picture is. Many events may be
 * wrong: the better half of the probes counts. `heads` are tried, the first of them preferred where others are no better;
 * `trusted`: timecode or length speak for it, and only where it shows nothing of the cut is another taken.
 */
export function layReference(
  native: (n: Frames) => Uint8Array | null,
  box: Bounds,
  fits: readonly FrameFit[],
  heads: readonly Frames[],
  probes: readonly Probe[],
  trusted = false,
): Laying {
  const [first = 0] = heads;
  let best: Laying = { fit: fits[0] ?? FILLS_ALL, head: first, score: 0, shown: probes.map((p) => first + p.at) };
  const kept = Math.max(1, Math.ceil(probes.length / 2));
  const upper = (scores: readonly number[]) =>
    [...scores]
      .sort((a, b) => b - a)
      .slice(0, kept)
      .reduce((a, b) => a + b, 0) / kept;
  for (const [i, fit] of fits.entries()) {
    const mask = maskOf(box, fit);
    if (mask.reduce((a, b) => a + b, 0) < GRID_SIZE / 12) continue;
    const pictures = new Map<Frames, Float32Array | null>();
    const at = (n: Frames) => {
      const known = pictures.get(n);
      if (known !== undefined) return known;
      const frame = native(n);
      const made = frame && coarse(rectified(frame, fit), mask);
      pictures.set(n, made);
      return made;
    };
    const sources = probes.map((p) => coarse(p.luma, mask));
    const agree = (k: number, n: Frames) => {
      const reference = at(n);
      return reference ? agreement(reference, sources[k] as Float32Array) : 0;
    };
    /** Each probe where it is shown best around a head. */
    const around = (head: Frames) =>
      probes.map((p, k) => {
        const listed = { n: head + p.at, score: agree(k, head + p.at) };
        let found = listed;
        for (let d = -SLIPPED; d <= SLIPPED; d++) {
          const score = agree(k, head + p.at + d);
          if (score > found.score) found = { n: head + p.at + d, score };
        }
        // A frame aside agrees a little better where the fit is a little off: that would only confirm it.
        return found.score > listed.score + SLIPS ? found : listed;
      });
    const laid = (head: Frames): Laying => {
      const found = around(head);
      return { fit, head, score: upper(found.map((f) => f.score)), shown: found.map((f) => f.n) };
    };
    let one = laid(first);
    if (!trusted || one.score < SHOWS) {
      let likeliest = { head: first, score: upper(probes.map((p, k) => agree(k, first + p.at))) + PREFERRED };
      for (const head of heads) {
        const score = upper(probes.map((p, k) => agree(k, head + p.at)));
        if (score > likeliest.score) likeliest = { head, score };
      }
      if (likeliest.head !== first) one = laid(likeliest.head);
    }
    if (one.score > best.score + (i === 0 ? 0 : LIKELIER)) best = one;
  }
  return best;
}

/** Rounds in which the place of the picture is refined: pictures of fine detail agree only once the others have led there. */
const ROUNDS = 4;
/** Only probes that agree so well count, and so much beside the best; so many of them at the least. */
const [RIGHT, AS_RIGHT, FEWEST] = [0.5, 0.75, 3];
/** What a round must gain, and how far all of them may lead. */
const GAIN = 0.0005;
const FURTHEST = 0.06;

/** Refines where the picture lies by the better half of the probes, all at once: an inset is never found to a point by its bars. */
export function finerFit(
  native: (n: Frames) => Uint8Array | null,
  box: Bounds,
  { fit: from, shown }: Laying,
  probes: readonly Probe[],
): FrameFit {
  const matchesOf = (fit: FrameFit): Match[] =>
    probes.flatMap((p, k) => {
      const frame = native(shown[k] as Frames);
      return frame ? [{ reference: rectified(frame, fit), source: p.luma }] : [];
    });
  return polished(evenlyFiner(from, box, matchesOf), box, matchesOf);
}

/** The matches that tell where a picture lies: the better half, of those that agree well. */
function tellingOf(matches: readonly Match[], mask: Mask): Match[] {
  const scored = matches.map((m) => ({ m, score: agreementLaid([m], AS_IT_IS, mask) })).sort((a, b) => b.score - a.score);
  const least = Math.max(RIGHT, (scored[0]?.score ?? 0) * AS_RIGHT);
  return scored.slice(0, Math.ceil(matches.length / 2)).flatMap(({ m, score }) => (score >= least ? [m] : []));
}

/** Moved and scaled, its shape kept. */
function evenlyFiner(from: FrameFit, box: Bounds, matchesOf: (fit: FrameFit) => Match[]): FrameFit {
  let fit = from;
  for (let round = 0; round < ROUNDS; round++) {
    const mask = maskOf(box, fit);
    const best = tellingOf(matchesOf(fit), mask);
    if (best.length < FEWEST) return fit;
    const laid = refined(best, AS_IT_IS, mask);
    if (agreementLaid(best, laid, mask) - agreementLaid(best, AS_IT_IS, mask) < GAIN) return fit;
    const [cx, cy] = [fit.left + fit.width * (0.5 + laid.x), fit.top + fit.height * (0.5 + laid.y)];
    const [width, height] = [fit.width * laid.scale, fit.height * laid.scale];
    const finer = { left: cx - width / 2, top: cy - height / 2, width, height };
    if (Math.abs(finer.width / from.width - 1) > FURTHEST || Math.abs(finer.left - from.left) > FURTHEST) return fit;
    fit = finer;
  }
  return fit;
}

/** Rounds in which width and height are refined each for itself, and the most by which the shape may differ. */
const POLISHES = 6;
const OTHER_SHAPE = 0.02;

/**
 * Moved, and made wider and taller each by itself, by least squares at the full: rasters are rounded to whole lines, so that
 * 240 x 136 holds 16:9 stretched by three quarters of a percent, and of a slow pan a twentieth of a point is half a frame.
 */
function polished(from: FrameFit, box: Bounds, matchesOf: (fit: FrameFit) => Match[]): FrameFit {
  let fit = from;
  let first: number | null = null;
  for (let round = 0; round <= POLISHES; round++) {
    const mask = maskOf(box, fit);
    const matches = tellingOf(matchesOf(fit), mask);
    if (matches.length < FEWEST) return from;
    const value = agreementLaid(matches, AS_IT_IS, mask);
    first ??= value;
    // Pictures that fall between points of the reference are softer, and agree a little less where they lie better.
    if (value < first - SOFTER) return from;
    const step = round < POLISHES ? stretchOf(matches, mask) : null;
    if (!step) break;
    const [cx, cy] = [fit.left + fit.width * (0.5 + step.x), fit.top + fit.height * (0.5 + step.y)];
    const [width, height] = [fit.width * step.wider, fit.height * step.taller];
    if (Math.abs(width / height / (from.width / from.height) - 1) > OTHER_SHAPE) return from;
    const moved = Math.max(Math.abs(step.x), Math.abs(step.wider - 1)) * GRID.width;
    if (Math.max(moved, Math.max(Math.abs(step.y), Math.abs(step.taller - 1)) * GRID.height) < STILL) break;
    fit = { left: cx - width / 2, top: cy - height / 2, width, height };
  }
  return fit;
}

/** By how much less pictures may agree that lie between points, and the step in points below which all is said. */
const SOFTER = 0.002;
const STILL = 0.004;
