import type { Frames } from '../time';
import { meanOf } from './lines';
import { agreement, comparable, type Luma, type Mask } from './pictures';
import { spread } from './runs';

/** What takes a temporary grade out of a picture of the reference: its values become those of the sources. */
export type Tone = (luma: Luma) => Luma;

/** A side of a cut, and the frames among which it is seen by itself. */
export interface Alone {
  readonly from: Frames;
  readonly to: Frames;
  picture(at: Frames): Luma | null;
}

/** Frames of a side that are looked at, and those of them that agree best, which the curve is told by. */
const [LOOKED, TAKEN] = [6, 2];
/** Values are told in so many steps, each of as many points. */
const STEPS = 16;
/** Values of the sources that lie closer together than this tell no curve; and how flat a curve may be, of its mean. */
const [NARROW, FLATTEST] = [24, 0.2];

/**
 * The curve by which a grade made the values of the sources those of the reference, undone: mixes are linear in the values of the
 * sources, and a grade bends them. Told by the frames that show one side alone; null where they are too few, or too flat.
 */
export function toneOf(sides: readonly Alone[], reference: (at: Frames) => Luma | null, mask: Mask): Tone | null {
  const points = sides.flatMap((side) => purest(side, reference, mask)).flatMap(({ r, s }) => pointsOf(r, s, mask));
  points.sort((a, b) => a[0] - b[0]);
  const each = Math.floor(points.length / STEPS);
  if (each < STEPS) return null;
  const curve = Array.from({ length: STEPS }, (_, i) => {
    const step = points.slice(i * each, (i + 1) * each);
    return { source: mean(step, 0), reference: mean(step, 1) };
  });
  const [first, last] = [curve[0] as Point, curve[STEPS - 1] as Point];
  const slope = (last.reference - first.reference) / (last.source - first.source);
  if (last.source - first.source < NARROW || !(slope > 0) || isStraight(curve)) return null;
  // Where highlights are clipped the curve is flat, and cannot be undone: it is taken to rise a little.
  for (let i = 1; i < STEPS; i++) {
    const [before, here] = [curve[i - 1] as Point, curve[i] as Point];
    const least = before.reference + FLATTEST * slope * (here.source - before.source);
    if (here.reference < least) curve[i] = { ...here, reference: least };
  }
  return (luma) => luma.map((v) => undone(curve, v));
}

interface Point {
  readonly source: number;
  readonly reference: number;
}

/** Code values by which a curve that bends departs from a straight line, root mean square: mixes are as linear after a straight one. */
const BENDS = 0.8;

function isStraight(curve: readonly Point[]): boolean {
  const middle = { source: meanOf(curve.map((p) => p.source)), reference: meanOf(curve.map((p) => p.reference)) };
  const [across, both] = curve.reduce(
    ([a, b], p) => [a + (p.source - middle.source) ** 2, b + (p.source - middle.source) * (p.reference - middle.reference)],
    [0, 0] as [number, number],
  );
  const off = curve.map((p) => (p.reference - middle.reference - (both / across) * (p.source - middle.source)) ** 2);
  return Math.sqrt(meanOf(off)) < BENDS;
}

/** The frames of a side that agree best with it. */
function purest({ from, to, picture }: Alone, reference: (at: Frames) => Luma | null, mask: Mask): { r: Luma; s: Luma }[] {
  const frames = Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);
  return spread(frames, LOOKED)
    .flatMap((at) => {
      const [r, s] = [reference(at), picture(at)];
      return r && s ? [{ r, s, like: agreement(comparable(r, mask), comparable(s, mask)) }] : [];
    })
    .filter(({ like }) => like > LIKE)
    .sort((a, b) => b.like - a.like)
    .slice(0, TAKEN);
}

/** A frame below this agreement may show something else besides. */
const LIKE = 0.6;

const pointsOf = (reference: Luma, source: Luma, mask: Mask): [number, number][] => {
  const points: [number, number][] = [];
  for (let i = 0; i < mask.length; i++) if (mask[i]) points.push([source[i] as number, reference[i] as number]);
  return points;
};

const mean = (points: readonly (readonly [number, number])[], which: 0 | 1): number =>
  points.reduce((sum, p) => sum + p[which], 0) / points.length;

/** The value of the source that a value of the reference stands for; beyond the curve it goes on as at its end. */
function undone(curve: readonly Point[], value: number): number {
  let at = 1;
  while (at < curve.length - 1 && (curve[at] as Point).reference < value) at++;
  const [a, b] = [curve[at - 1] as Point, curve[at] as Point];
  const rise = b.reference - a.reference;
  return rise > 0 ? a.source + ((value - a.reference) * (b.source - a.source)) / rise : a.source;
}
