import { HELD, LINEAR, PARAMETERS, PID } from './model';
import { type AafObject, auidAt, childrenAt, definitionAt, indirectAt, rationalAt, rationalOf, vectorsOf } from './object';

/** A point of a value that changes: where it stands, its value, and how the curve leaves and reaches it, as offsets of both. */
export interface Point {
  readonly time: number;
  readonly value: number;
  readonly leaves: Handle | null;
  readonly arrives: Handle | null;
}
type Handle = readonly [time: number, value: number];

/** How a value goes from one point to the next: not until the next, evenly, or along a curve by the handles of its points. */
export type Interpolation = 'held' | 'linear' | 'curved';

/** A value that changes on the way; its points are in order of time. */
export interface Curve {
  readonly points: readonly Point[];
  readonly interpolation: Interpolation;
}

/**
 * The points of a varying value (AAF Object Specification, VaryingValue). Times are multiplied by `unit`, so that a curve whose
 * times run from 0 to 1 is read in frames; handles are in frames as they are stored. Null where a point cannot be read, or there is none.
 */
export function curveOf(varying: AafObject, unit = 1): Curve | null {
  const stored = childrenAt(varying, PID.points).found;
  const points = stored.flatMap((p): Point[] => {
    const [time, value] = [rationalAt(p, PID.pointTime), indirectAt(p, PID.pointValue)];
    const number = value && rationalOf(value);
    if (!time || !number) return [];
    const handles = propertiesOf(p);
    const handle = (of: string, on: string): Handle | null => {
      const [x, y] = [handles.get(of), handles.get(on)];
      return x === undefined || y === undefined ? null : [x, y];
    };
    return [
      {
        time: (time.num / time.den) * unit,
        value: number.num / number.den,
        leaves: handle(PARAMETERS.leavesTime, PARAMETERS.leavesValue),
        arrives: handle(PARAMETERS.arrivesTime, PARAMETERS.arrivesValue),
      },
    ];
  });
  if (points.length === 0 || points.length < stored.length) return null;
  points.sort((a, b) => a.time - b.time);
  const way = definitionAt(varying, PID.interpolation);
  return { points, interpolation: way === HELD ? 'held' : way === LINEAR ? 'linear' : 'curved' };
}

/** The rational properties of a point by what they are of. They are an extension, whose property id each file chooses for itself. */
function propertiesOf(point: AafObject): Map<string, number> {
  const found = new Map<string, number>();
  for (const id of vectorsOf(point))
    for (const property of childrenAt(point, id).found) {
      const value = indirectAt(property, PID.constant);
      const number = value?.length === 8 ? rationalOf(value) : null;
      if (number) found.set(auidAt(property, PID.parameterDefinition), number.num / number.den);
    }
  return found;
}

/** The value of a curve at a time: that of its nearest point where it lies before the first or after the last. */
export function valueAt({ points, interpolation }: Curve, time: number): number {
  let low = 0;
  let high = points.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((points[middle] as Point).time <= time) low = middle;
    else high = middle - 1;
  }
  const [from, to] = [points[low] as Point, points[low + 1]];
  if (!to || time <= from.time || interpolation === 'held') return from.value;
  const run = to.time - from.time;
  if (interpolation === 'linear' || !from.leaves || !to.arrives || run <= 0)
    return from.value + ((time - from.time) * (to.value - from.value)) / run;
  const [x1, x2] = [within(from.time + from.leaves[0], from, to), within(to.time + to.arrives[0], from, to)];
  const share = shareAt(from.time, x1, x2, to.time, time);
  return bezier(from.value, from.value + from.leaves[1], to.value + to.arrives[1], to.value, share);
}

const within = (time: number, from: Point, to: Point): number => Math.min(to.time, Math.max(from.time, time));

const bezier = (a: number, b: number, c: number, d: number, t: number): number => {
  const u = 1 - t;
  return u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d;
};

/** How far along a curve a time lies, 0 to 1: times of its four points never run back, so that halving finds it. */
function shareAt(a: number, b: number, c: number, d: number, time: number): number {
  let [low, high] = [0, 1];
  for (let step = 0; step < 60; step++) {
    const middle = (low + high) / 2;
    if (bezier(a, b, c, d, middle) < time) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** True where a curve's way between its points could not be told and is taken to be even. */
export const isGuessed = ({ points, interpolation }: Curve): boolean =>
  interpolation === 'curved' && points.length > 1 && points.some((p, i) => (i + 1 < points.length && !p.leaves) || (i > 0 && !p.arrives));
