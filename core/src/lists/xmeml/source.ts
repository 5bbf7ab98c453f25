import { framesUnder, runOf, spanOf } from '../../conform';
import { NATURAL, newEvent, type Retime } from '../../edit';
import {
  carriedExactly,
  ceilOf,
  decimalOf,
  type Fraction,
  type FrameRange,
  type Frames,
  floorOf,
  fraction,
  fractionOf,
  lengthOf,
  magnitude,
  minus,
  nominal,
  RATES,
  type Rate,
  range,
  times,
  ZERO,
} from '../../time';
import { child, type Node, numberAt, textAt } from '../../xml';
import type { Speed } from './effects';
import type { ItemRates } from './rates';

/** The part of its file an item uses, `in` and `out` as the item counts them: at its own rate, from the file's first frame. */
export interface Used {
  readonly in: Fraction;
  readonly out: Fraction;
}

/** The source of an item in frames of its file, from the file's first frame; `phase` is the part of a frame it begins on. */
export interface SourceRun {
  readonly source: FrameRange;
  readonly phase: Fraction;
  readonly retime: Retime;
}

/**
 * The source an item uses over all the record it is seen on, transitions included. Its position is the time that `in`
 * stands for, carried exactly to the rate of the file and floored once: `in` 1000 at 24 is frame 1041 at 25, and begins
 * two thirds of a frame into it. Under a speed `in` and `out` count frames of the file, or, when they are as far apart as
 * `start` and `end`, frames of the item after retiming: both are in use (from memory). A keyed speed begins at the lowest
 * frame that the event's `own` part and its keys name. A held picture is the one `in` names.
 */
export function sourceRun(speed: Speed, used: Used, seen: FrameRange, own: FrameRange, rates: ItemRates): SourceRun {
  const { item, file, sequence } = rates;
  const inFile = (at: Fraction) => carriedExactly(at, item, file);
  const length = minus(used.out, used.in);
  if (speed.kind === 'freeze') return begunAt(inFile(used.in), Math.max(1, ceilOf(inFile(length))), speed, false);
  if (speed.kind === 'graph') return keyedRun(speed.keys, used, seen, own, rates);
  const run = speed.kind === 'natural' ? NATURAL : speed;
  const pace = speed.kind === 'natural' ? null : magnitude(speed.speed);
  const retimedCount = pace !== null && isAsLong(length, seen, item, sequence);
  const from = inFile(retimedCount ? times(pace, used.in) : used.in);
  const counted = pace !== null && !retimedCount;
  const phase = partOf(from);
  const asked = framesUnder({ retime: run, sourceRate: file, rateMode: 'usual' }, sequence, lengthOf(seen), phase);
  return begunAt(
    from,
    counted ? Math.max(1, ceilOf(inFile(length))) : asked,
    run,
    pace !== null && speed.kind === 'constant' && speed.speed.num < 0,
  );
}

const partOf = (at: Fraction): Fraction => minus(at, fraction(floorOf(at)));

function begunAt(from: Fraction, length: Frames, retime: Retime, backwards: boolean): SourceRun {
  const first = floorOf(from);
  // A held picture has no next frame, and a reverse begins at its other end.
  const phase = backwards || retime.kind === 'freeze' ? ZERO : partOf(from);
  return { source: range(first, first + length), phase, retime };
}

/** True when a length at an item's rate is that of the record it is seen on, give or take a frame of rounding. */
export function isAsLong(length: Fraction, seen: FrameRange, item: Rate, sequence: Rate): boolean {
  const near = (frames: Fraction) => Math.abs(decimalOf(minus(length, frames))) <= 1;
  const record = fraction(lengthOf(seen));
  return near(carriedExactly(record, sequence, item)) || (nominal(item) === nominal(sequence) && near(record));
}

function keyedRun(
  keys: Extract<Speed, { kind: 'graph' }>['keys'],
  used: Used,
  seen: FrameRange,
  own: FrameRange,
  rates: ItemRates,
): SourceRun {
  const { item, file, sequence } = rates;
  const placed = keys.map((k) => ({
    record: decimalOf(carriedExactly(minus(fractionOf(k.record), used.in), item, sequence)),
    source: decimalOf(carriedExactly(fractionOf(k.source), item, file)),
  }));
  const run = runOf(newEvent({ ...UNPLACED, retime: { kind: 'keyed', keys: placed } }), UNPLACED.sourceRate);
  const span = spanOf(run, own.in - seen.in, own.out - seen.in + 1);
  const first = Math.min(span.in, ...placed.map((k) => Math.floor(k.source)));
  return {
    source: range(first, Math.max(first + 1, span.out - 1, ...placed.map((k) => Math.ceil(k.source)))),
    phase: ZERO,
    retime: { kind: 'keyed', keys: placed.map((k) => ({ record: k.record, source: k.source - first })) },
  };
}

/** For asking the time map what a speed does where no more is known. */
const UNPLACED = { key: '', sourceRate: RATES['24'], source: range(0, 1), record: range(0, 1) };

/** Ticks a second in fields that state a position once more (from memory; every rate in use divides them). */
const TICKS = 254_016_000_000;

/** The position that a field of ticks states beside `in`, in frames at the item's rate; null where none does. */
export function tickedIn(item: Node, rate: Rate): number | null {
  const field = item.children.find((c) => /TicksIn$/.test(c.name));
  const ticks = field ? numberAt(item, field.name) : null;
  return ticks === null ? null : (ticks / TICKS) * (rate.num / rate.den);
}

/**
 * Which frame of its item a still shows, or null when it is none: an item that is held, or one whose file lasts a single
 * frame.
 */
export function stillAt(item: Node, file: Node | null, used: Used): Fraction | null {
  if (/^true$/i.test(textAt(item, 'stillframe'))) {
    return fractionOf(numberAt(item, 'stillframeoffset') ?? decimalOf(used.in));
  }
  return numberAt(file, 'duration') === 1 && child(child(file, 'media'), 'video') !== null ? ZERO : null;
}
