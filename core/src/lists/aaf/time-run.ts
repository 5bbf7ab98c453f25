import type { SpeedKey } from '../../edit';
import { decimalOf, type Fraction, type Frames, floorOf, fraction, fractionOf, over, plus, times, ZERO } from '../../time';
import type { Contents } from './chain';
import { type Curve, curveOf, isGuessed, valueAt } from './curve';
import { classOf, OPERATIONS, PARAMETERS, PID } from './model';
import { type AafObject, auidAt, childrenAt, definitionAt, indirectAt, rationalAt, rationalOf } from './object';

/**
 * Which frame of its input a speed effect shows at each of its own, both counted from 0: `from + n x speed` where it runs evenly, one
 * frame throughout, or keys between which it runs evenly. What is shown is the whole frame below (floor).
 */
export type TimeRun =
  | { readonly kind: 'even'; readonly from: Fraction; readonly speed: Fraction }
  | { readonly kind: 'held'; readonly frame: Frames }
  | { readonly kind: 'keyed'; readonly keys: readonly SpeedKey[] };

/** A run, and what of it had to be supposed: the way between its points, or what a ratio of 0 means. */
export interface ReadRun {
  readonly run: TimeRun;
  readonly supposed: 'curve' | 'zero' | null;
}

/** True for an effect that changes the speed of its input. */
export const isTimeWarp = (id: string, name: string): boolean =>
  id === OPERATIONS.speed || id === OPERATIONS.repeat || /speed ?control|motion ?control|time ?warp/i.test(name);

/**
 * How a speed effect of `length` frames runs over its input of `held`; null where nothing says it that can be read.
 *
 * A map of offsets says it frame by frame and stands above all else: real files state a ratio beside it that is rounded to whole frames,
 * or none of that speed at all. Without one the ratio counts, which is length out over length in: 2 is slow motion to half
 * (AAF Object Specification, SpeedRatio; the rendered movies of the outside collection). Backwards begins with the last frame of the input.
 */
export function readTimeRun(contents: Contents, group: AafObject, length: Frames, held: Frames): ReadRun | null {
  const parameter = (id: string, name: RegExp) =>
    childrenAt(group, PID.parameters).found.find((p) => {
      const own = auidAt(p, PID.parameterDefinition);
      return own === id || name.test(contents.parameters.get(own) ?? '');
    });
  const offsets = parameter(PARAMETERS.speedOffsets, /^PARAM_SPEED_OFFSET_MAP/i);
  if (offsets) return fromOffsets(curveOf(offsets), length);
  // Times of this one run from 0 on the first frame to 1 on the last.
  const positions = parameter(PARAMETERS.offsets, /^PARAM_OFFSET_MAP/i);
  if (positions) return fromOffsets(curveOf(positions, Math.max(1, length - 1)), length);
  const speeds = parameter(PARAMETERS.speeds, /^PARAM_SPEED_MAP/i);
  if (speeds && classOf(speeds) === 'VaryingValue') return fromSpeeds(curveOf(speeds), length, held);
  const ratio = parameter(PARAMETERS.speedRatio, /speed ?ratio/i);
  if (!ratio) return null;
  if (classOf(ratio) === 'VaryingValue') {
    const curve = curveOf(ratio, length);
    return (
      curve && fromSpeeds({ ...curve, points: curve.points.map((p) => ({ ...p, value: p.value === 0 ? 0 : 1 / p.value })) }, length, held)
    );
  }
  const value = indirectAt(ratio, PID.constant);
  const stated = (value && rationalOf(value)) ?? rationalAt(ratio, PID.constant);
  if (!stated) return null;
  if (stated.num === 0) return { run: { kind: 'held', frame: 0 }, supposed: 'zero' };
  if (held <= 1 && stated.num > 0) return { run: { kind: 'held', frame: 0 }, supposed: null };
  return { run: even(stated.num > 0 ? ZERO : fraction(held - 1), fraction(stated.den, stated.num)), supposed: null };
}

const even = (from: Fraction, speed: Fraction): TimeRun =>
  speed.num === 0 ? { kind: 'held', frame: floorOf(from) } : { kind: 'even', from, speed };

/** Offsets are taken for even where they lie closer to a straight line than this, in frames. */
const STRAIGHT = 1e-6;

function fromOffsets(curve: Curve | null, length: Frames): ReadRun | null {
  if (!curve) return null;
  const [first, last] = [curve.points[0], curve.points.at(-1)];
  if (!first || !last) return null;
  const supposed = isGuessed(curve) ? 'curve' : null;
  // Two points name a line beyond both of them too: a trimmed effect states those of the whole.
  if (curve.points.length === 2 && curve.interpolation === 'linear' && last.time > first.time) {
    const speed = over(fractionOf(last.value - first.value), fractionOf(last.time - first.time));
    return { run: even(fractionOf(first.value - first.time * decimalOf(speed)), simplest(speed)), supposed };
  }
  // Points closer than frames are what a curve was sampled to; others are the keys that somebody set.
  const apart = curve.points.every((p, i) => i < 2 || p.time - (curve.points[i - 2]?.time ?? 0) >= 1);
  if (curve.interpolation === 'linear' && curve.points.length > 2 && apart)
    return { run: { kind: 'keyed', keys: curve.points.map((p) => ({ record: p.time, source: p.value })) }, supposed };
  return { run: sampled((n) => valueAt(curve, n), length), supposed };
}

/** A speed that a file states to nine digits is the simple one that it stands for: 1.01010101 is 100/99. */
const simplest = (speed: Fraction): Fraction => (speed.den > 10_000 ? fractionOf(decimalOf(speed)) : speed);

/** Speeds added up from frame to frame; backwards they begin with the last frame of the input. */
function fromSpeeds(curve: Curve | null, length: Frames, held: Frames): ReadRun | null {
  const first = curve?.points[0];
  if (!curve || !first) return null;
  const from = first.value < 0 ? Math.max(0, held - 1) : 0;
  if (curve.points.every((p) => p.value === first.value)) return { run: even(fraction(from), fractionOf(first.value)), supposed: null };
  const reached = [from];
  for (let n = 0; n < length; n++) {
    const [at, next] = [valueAt(curve, n), valueAt(curve, n + 1)];
    reached.push((reached[n] as number) + (curve.interpolation === 'held' ? at : (at + next) / 2));
  }
  return { run: sampled((n) => reached[Math.min(length, Math.max(0, n))] as number, length), supposed: isGuessed(curve) ? 'curve' : null };
}

/** A run by what it shows at each frame: even where that is a straight line, else as few keys as show the same frames. */
function sampled(at: (n: Frames) => number, length: Frames): TimeRun {
  const values = Array.from({ length: Math.max(1, length) }, (_, n) => at(n));
  const [first, last] = [values[0] as number, values.at(-1) as number];
  const slope = values.length > 1 ? (last - first) / (values.length - 1) : 1;
  if (values.every((v, n) => Math.abs(v - first - n * slope) < STRAIGHT)) return even(fractionOf(first), fractionOf(slope));
  return { kind: 'keyed', keys: keysThrough(values) };
}

/** Keys that are left out change no value by more than this, in frames, and no frame that is shown. */
const CLOSE = 1e-3;

function keysThrough(values: readonly number[]): SpeedKey[] {
  const key = (n: number): SpeedKey => ({ record: n, source: values[n] as number });
  const keys = [key(0)];
  let from = 0;
  const fits = (to: number): boolean => {
    const [a, b] = [values[from] as number, values[to] as number];
    for (let n = from + 1; n < to; n++) {
      const [meant, made] = [values[n] as number, a + ((n - from) * (b - a)) / (to - from)];
      if (Math.abs(meant - made) > CLOSE || Math.floor(meant) !== Math.floor(made)) return false;
    }
    return true;
  };
  while (from < values.length - 1) {
    // A stretch that fits is drawn out by doubling, then to its last frame, so that a long clip takes no square of its length.
    let [good, step] = [from + 1, 1];
    while (good + step < values.length && fits(good + step)) {
      good += step;
      step *= 2;
    }
    for (; step >= 1; step = Math.floor(step / 2)) if (good + step < values.length && fits(good + step)) good += step;
    keys.push(key(good));
    from = good;
  }
  return keys;
}

/** The input's place at a frame of the effect, exact for even runs and to a double's precision for keyed ones. */
export function placeAt(run: TimeRun, n: Frames): Fraction {
  switch (run.kind) {
    case 'held':
      return fraction(run.frame);
    case 'even':
      return plus(run.from, times(run.speed, fraction(n)));
    case 'keyed': {
      const { keys } = run;
      let i = 1;
      while (i < keys.length - 1 && (keys[i] as SpeedKey).record <= n) i++;
      const [a, b] = [keys[i - 1] as SpeedKey, keys[i] as SpeedKey];
      return fractionOf(a.source + ((n - a.record) * (b.source - a.source)) / (b.record - a.record));
    }
  }
}

/** True for an effect that shows its input over and over. */
export const isRepeat = (group: AafObject): boolean => definitionAt(group, PID.operation) === OPERATIONS.repeat;
