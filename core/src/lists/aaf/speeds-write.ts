import { rateRatio } from '../../conform';
import type { ListEvent, SpeedKey } from '../../edit';
import {
  commonDivisor,
  decimalOf,
  type Fraction,
  type Frames,
  fraction,
  fractionOf,
  magnitude,
  minus,
  over,
  plus,
  type Rate,
  times,
} from '../../time';
import { LINEAR, PARAMETERS } from './model';
import type { NewObject, Value } from './object-write';

/** A retimed event as the input of a speed effect and the effect itself: frames of the record, but for `from`, which is a frame of the source. */
interface Retimed {
  readonly event: ListEvent;
  /** Frames of the effect ahead of the event's record in. */
  readonly lead: Frames;
  readonly length: Frames;
  readonly from: Frames;
  readonly held: Frames;
  readonly rate: Rate;
}

/**
 * How fast a speed effect runs: the ratio of its length to that of its input, and beside it a map of offsets, which says at each frame which one of
 * the input is shown. The map is exact where the ratio is not: where an event begins on a part of a frame, backwards, and where the speed changes.
 */
export function speedParameters(retimed: Retimed): readonly NewObject[] {
  const { ratio, points } = runOf(retimed);
  return [
    { is: 'ConstantValue', has: { Definition: PARAMETERS.speedRatio, Value: { type: 'Rational', value: stored(ratio) } } },
    {
      is: 'VaryingValue',
      has: {
        Definition: PARAMETERS.speedOffsets,
        Interpolation: LINEAR,
        PointList: points.map(([time, value]) => ({
          is: 'ControlPoint',
          has: { Time: stored(time), Value: { type: 'Rational', value: stored(value) } satisfies Value },
        })),
      },
    },
  ];
}

interface Run {
  readonly ratio: Fraction;
  readonly points: readonly (readonly [time: Fraction, value: Fraction])[];
}

function runOf({ event, lead, length, from, held, rate }: Retimed): Run {
  const { retime, source, phase, sourceRate } = event;
  const perUnit = rateRatio(sourceRate, rate, event.rateMode);
  /** A place in the source as units of the track from where the input begins. */
  const unitsAt = (place: Fraction): Fraction => over(minus(place, fraction(from)), perUnit);
  const lengths = fraction(length, Math.max(1, held));
  switch (retime.kind) {
    case 'natural':
    case 'freeze': {
      const frame = unitsAt(fraction(source.in));
      return {
        ratio: lengths,
        points: [
          [fraction(0), frame],
          [fraction(length), frame],
        ],
      };
    }
    case 'keyed': {
      const keys = drawnOut(retime.keys, -lead, length - lead);
      const points = keys.map((k) => [fractionOf(k.record + lead), unitsAt(plus(fraction(source.in), fractionOf(k.source)))] as const);
      return { ratio: lengths, points };
    }
    case 'constant': {
      const { speed } = retime;
      const start = speed.num > 0 ? plus(fraction(source.in), phase) : fromLast(source.out, phase, magnitude(speed));
      const first = minus(unitsAt(start), times(speed, fraction(lead)));
      return {
        ratio: over(fraction(1), speed),
        points: [
          [fraction(0), first],
          [fraction(length), plus(first, times(speed, fraction(length)))],
        ],
      };
    }
  }
}

/** Keys with one at either end of what is seen, since readers hold a value beyond its points; and a third where there are but two, which would say an even speed. */
function drawnOut(keys: readonly SpeedKey[], from: Frames, to: Frames): readonly SpeedKey[] {
  const at = (a: SpeedKey | undefined, b: SpeedKey | undefined, record: number): SpeedKey[] =>
    a && b && b.record > a.record
      ? [{ record, source: a.source + ((record - a.record) * (b.source - a.source)) / (b.record - a.record) }]
      : [];
  const [first, second, last, before] = [keys[0], keys[1], keys.at(-1), keys.at(-2)];
  const made = [
    ...(first && first.record > from ? at(first, second, from) : []),
    ...keys,
    ...(last && last.record < to ? at(before, last, to) : []),
  ];
  return made.length === 2 ? [...made, ...at(made[0], made[1], 2 * (made[1]?.record ?? 0) - (made[0]?.record ?? 0))] : made;
}

/**
 * Where a reverse stands at its first frame, so that the frame below is the one that is shown: a list counts back from its last frame, `phase` of a
 * frame on (out - 1, - 1, - 2, - 2 at half speed); a map shows the frame below where it stands.
 */
function fromLast(out: Frames, phase: Fraction, fast: Fraction): Fraction {
  const fine = (phase.den / commonDivisor(phase.den, fast.den)) * fast.den;
  return plus(minus(fraction(out - 1), phase), fraction(fine - 1, fine));
}

/** The largest part of a stored fraction. */
const LARGEST = 2 ** 31 - 1;

/** A fraction as it is stored: of two numbers of 32 bits, the nearest that fits. */
function stored(value: Fraction): readonly number[] {
  if (Math.abs(value.num) <= LARGEST && value.den <= LARGEST) return [value.num, value.den];
  const decimal = decimalOf(value);
  const fine = Math.max(1, Math.min(1_000_000, Math.floor(LARGEST / Math.max(1, Math.abs(decimal)))));
  const near = fraction(Math.max(-LARGEST, Math.min(LARGEST, Math.round(decimal * fine))), fine);
  return [near.num, near.den];
}
