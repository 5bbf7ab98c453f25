import type { ListEvent, Placement, RateMode, Retime, SpeedKey, Track } from '../edit';
import {
  ceilOf,
  commonDivisor,
  type Fraction,
  type FrameRange,
  type Frames,
  floorDivide,
  floorOf,
  fraction,
  fractionOf,
  lengthOf,
  magnitude,
  minus,
  nominal,
  ONE,
  over,
  plus,
  type Rate,
  range,
  times,
  ZERO,
} from '../time';

/**
 * The one time map: which frame of a source stands at which frame of the record, and back.
 *
 * One law: **source position = source in + offset x speed x (source rate / record rate), exact, floored once.**
 * `offset` counts record frames from where the source in stands; it may lie below 0 (a head handle) or past the event
 * (a dissolve's tail). Worked example: at half speed the offsets 0 1 2 3 show source in + 0 0 1 1; 25 in a cut of 24,
 * offsets 23 24 25 show + 23 25 26.
 *
 * A reverse runs the same way from the last instant of the span: its first frame is source out - 1, and at half speed
 * it shows out - 1, - 1, - 2, - 2. A freeze holds the source in. Between the keys of a keyed speed the source runs
 * evenly. Where rates differ see `RateMode`. (Common practice for edit lists: the source span names the frames used,
 * whichever way they run.)
 */
export interface Run {
  readonly kind: 'even' | 'held' | 'keyed';
  /** Distance from source in of the frame that stands at offset 0 when nothing was travelled. */
  readonly base: Frames;
  /** Frames travelled at an offset n from the record in are floor((`start` + n x `step`) / `den`). */
  readonly start: number;
  readonly step: number;
  readonly den: number;
  readonly backwards: boolean;
  readonly segments: readonly Segment[];
}

/** Between two keys the source stands at floor((start + n x step) / den), n counted from the record in. */
interface Segment {
  readonly until: number;
  readonly start: number;
  readonly step: number;
  readonly den: number;
}

/** What the map needs to know of an event. */
export type Timed = Pick<ListEvent, 'retime' | 'source' | 'record' | 'anchor' | 'phase' | 'sourceRate' | 'rateMode'>;

/** How many source frames pass under one record frame at natural speed. */
export function rateRatio(source: Rate, record: Rate, mode: RateMode): Fraction {
  if (mode === 'frame-for-frame') return ONE;
  if (source.num === record.num && source.den === record.den) return ONE;
  if (mode === 'usual' && nominal(source) === nominal(record)) return ONE;
  return over(fraction(source.num, source.den), fraction(record.num, record.den));
}

/** Which way an event of these rates runs, when that is asked: null where they are equally fast. */
export function ratesRun(source: Rate, record: Rate, mode: RateMode): Exclude<RateMode, 'usual'> | null {
  if (source.num * record.den === record.num * source.den) return null;
  return rateRatio(source, record, mode) === ONE ? 'frame-for-frame' : 'real-time';
}

const isBackwards = (retime: Retime): boolean => retime.kind === 'constant' && retime.speed.num < 0;

/** How many source frames pass under one record frame, whichever way they run; of a retime with one speed throughout. */
function stepOf(
  { retime, rateMode, sourceRate }: Pick<Timed, 'retime' | 'sourceRate' | 'rateMode'>,
  recordRate: Rate,
  counted = sourceRate,
): Fraction {
  const ratio = rateRatio(counted, recordRate, rateMode);
  return retime.kind === 'constant' ? times(magnitude(retime.speed), ratio) : ratio;
}

/**
 * The map of an event. `recordRate` is the cut's; `sourceRate` that of the frames that are counted: the list's own
 * source, or the original that is paired with it.
 */
export function runOf(event: Timed, recordRate: Rate, sourceRate: Rate = event.sourceRate): Run {
  const { retime, source, phase } = event;
  const anchor = event.anchor?.in ?? 0;
  if (retime.kind === 'freeze') return HELD;
  if (retime.kind === 'natural' && isPlain(event, recordRate, sourceRate)) return anchor === 0 ? PLAIN : evenRun(0, -anchor, 1, 1, false);
  if (retime.kind === 'keyed') return keyedRun(retime.keys, anchor, rateRatio(sourceRate, event.sourceRate, event.rateMode));
  const step = stepOf(event, recordRate, sourceRate);
  const from = minus(phaseAt(phase, event.sourceRate, sourceRate), times(step, fraction(anchor)));
  const den = (from.den / commonDivisor(from.den, step.den)) * step.den;
  const backwards = isBackwards(retime);
  const used = backwards ? framesAt(lengthOf(source), event, sourceRate) : 0;
  return evenRun(backwards ? used - 1 : 0, from.num * (den / from.den), step.num * (den / step.den), den, backwards);
}

const isPlain = (event: Timed, recordRate: Rate, sourceRate: Rate): boolean =>
  event.phase.num === 0 &&
  (nominal(sourceRate) === nominal(recordRate) ? event.rateMode !== 'real-time' : event.rateMode === 'frame-for-frame');

const evenRun = (base: Frames, start: number, step: number, den: number, backwards: boolean): Run => ({
  kind: 'even',
  base,
  start,
  step,
  den,
  backwards,
  segments: NO_SEGMENTS,
});

const NO_SEGMENTS: readonly Segment[] = [];
const PLAIN: Run = { kind: 'even', base: 0, start: 0, step: 1, den: 1, backwards: false, segments: NO_SEGMENTS };
const HELD: Run = { kind: 'held', base: 0, start: 0, step: 0, den: 1, backwards: false, segments: NO_SEGMENTS };

/** A number of source frames as the list counts them, in frames of the original that stands for it; rounded up. */
function framesAt(frames: Frames, event: Timed, sourceRate: Rate): Frames {
  const ratio = rateRatio(sourceRate, event.sourceRate, event.rateMode);
  return ratio === ONE ? frames : -floorDivide(-frames * ratio.num, ratio.den);
}

const phaseAt = (phase: Fraction, from: Rate, to: Rate): Fraction =>
  phase.num === 0 || (from.num === to.num && from.den === to.den) ? phase : times(phase, rateRatio(to, from, 'real-time'));

function keyedRun(keys: readonly SpeedKey[], anchor: Frames, scale: Fraction): Run {
  const segments: Segment[] = [];
  for (let i = 1; i < keys.length; i++) {
    const [from, to] = [keys[i - 1] as SpeedKey, keys[i] as SpeedKey];
    const [x, y] = [plus(fractionOf(from.record), fraction(anchor)), times(fractionOf(from.source), scale)];
    const run = minus(fractionOf(to.record), fractionOf(from.record));
    const rise = times(minus(fractionOf(to.source), fractionOf(from.source)), scale);
    const slope = run.num === 0 ? ZERO : over(rise, run);
    // The line from - x slope + n slope, brought to one denominator.
    const at = minus(y, times(x, slope));
    const den = (at.den / commonDivisor(at.den, slope.den)) * slope.den;
    segments.push({ until: to.record + anchor, start: at.num * (den / at.den), step: slope.num * (den / slope.den), den });
  }
  return { ...HELD, kind: 'keyed', segments };
}

/** The source frame at record offset `n` from the record in, as a distance from the source in. */
export function frameAt(run: Run, n: Frames): Frames {
  if (run.kind === 'even') {
    const travelled = travel(run.start, run.step, run.den, n);
    return run.backwards ? run.base - travelled : run.base + travelled;
  }
  if (run.kind === 'held') return run.base;
  let at = 0;
  while (at < run.segments.length - 1 && (run.segments[at] as Segment).until <= n) at++;
  const segment = run.segments[at];
  return segment ? travel(segment.start, segment.step, segment.den, n) : 0;
}

/** Above this a product of whole numbers may not be exact. */
const EXACT = Number.MAX_SAFE_INTEGER / 2;

function travel(start: number, step: number, den: number, n: number): Frames {
  const whole = start + n * step;
  if (den === 1) return whole;
  if (Math.abs(whole) < EXACT) return floorDivide(whole, den);
  const exact = BigInt(start) + BigInt(n) * BigInt(step);
  const quotient = exact / BigInt(den);
  return Number(exact < 0n && quotient * BigInt(den) !== exact ? quotient - 1n : quotient);
}

/**
 * The record offsets from the record in at which a source frame (a distance from the source in) stands; empty where it
 * is passed over. Of a freeze and of keyed speeds only those from `within.in` up to `within.out` are found.
 */
export function offsetsOf(run: Run, frame: Frames, within: FrameRange): FrameRange[] {
  if (run.kind === 'even') {
    const travelled = run.backwards ? run.base - frame : frame - run.base;
    const first = -floorDivide(run.start - travelled * run.den, run.step);
    const end = -floorDivide(run.start - (travelled + 1) * run.den, run.step);
    return first < end ? [range(first, end)] : [];
  }
  const found: FrameRange[] = [];
  for (let n = within.in; n < within.out; n++) {
    if (frameAt(run, n) !== frame) continue;
    const last = found.at(-1);
    if (last?.out === n) found[found.length - 1] = range(last.in, n + 1);
    else found.push(range(n, n + 1));
  }
  return found;
}

/**
 * The source frames that record offsets `from` up to `to` (exclusive, both from the record in) show, as distances from
 * the source in, out exclusive.
 */
export function spanOf(run: Run, from: Frames, to: Frames): FrameRange {
  const last = Math.max(from, to - 1);
  let low = Math.min(frameAt(run, from), frameAt(run, last));
  let high = Math.max(frameAt(run, from), frameAt(run, last));
  // A keyed speed may turn round on either side of its keys.
  for (const { until } of run.segments)
    for (const n of [Math.floor(until), Math.ceil(until)]) {
      if (n <= from || n >= last) continue;
      low = Math.min(low, frameAt(run, n));
      high = Math.max(high, frameAt(run, n));
    }
  return range(low, high + 1);
}

/** The source frames an event shows with its tail and what its own transition needs ahead of it. */
export const sourceSpan = (event: Timed & Pick<ListEvent, 'transitionIn'>, run: Run, tail: Frames = 0): FrameRange =>
  spanOf(run, -headFrames(event), lengthOf(event.record) + tail);

/** How many frames of source a list names for a length of record: all that it passes over, at least one. */
export function framesUnder(
  event: Pick<Timed, 'retime' | 'sourceRate' | 'rateMode'>,
  recordRate: Rate,
  length: Frames,
  phase: Fraction = ZERO,
): Frames {
  if (event.retime.kind === 'freeze') return 1;
  return Math.max(1, ceilOf(plus(phase, times(stepOf(event, recordRate), fraction(length)))));
}

/** How many frames ahead of its record in an event is seen, because its transition begins before the cut. */
export const headFrames = (event: Pick<ListEvent, 'transitionIn'>): Frames => Math.max(0, event.transitionIn?.before ?? 0);

/**
 * How many frames past its record out an event is still seen, because the next event on its track
 * begins with a transition out of it. 0 when nothing follows at once or it leaves black behind.
 */
export function tailFrames(track: Track, index: number): Frames {
  const event = track.events[index];
  const next = track.events[index + 1];
  const join = next?.transitionIn;
  if (!event || !next || !join || join.from !== 'previous' || next.record.in !== event.record.out) return 0;
  return Math.max(0, join.duration - join.before);
}

/** Where, in record offsets from the record in, the source in and out stand that the list names. */
const anchorOf = (event: Pick<ListEvent, 'anchor' | 'record'>): FrameRange => event.anchor ?? range(0, lengthOf(event.record));

/**
 * The same event over another part of the record, longer or shorter at either end: what is seen at each record frame
 * stays the same. Only the anchor moves; the source stays as the list names it.
 */
export function trimmed<E extends ListEvent>(event: E, record: FrameRange): E {
  const head = record.in - event.record.in;
  if (head === 0 && record.out === event.record.out) return event;
  const anchor = range(anchorOf(event).in - head, anchorOf(event).out - head);
  return {
    ...event,
    record,
    anchor: anchor.in === 0 && anchor.out === lengthOf(record) ? null : anchor,
    placement: event.placement && event.placement.keys.length > 0 ? keysMoved(event.placement, head) : event.placement,
  };
}

/** A placement whose keys stay at their record frames while the record in moves by `head`. */
const keysMoved = (placement: Placement, head: Frames): Placement => ({
  ...placement,
  keys: placement.keys.map((k) => ({ ...k, record: k.record - head })),
});

/**
 * The event with its source in and out as they are at its record in and out, as lists write them: no anchor is left.
 * What is left is the phase, a part of a frame that no list can say; it is 0 wherever the trim fell on a whole source
 * frame. Source that the list named beyond or short of what its speed asks for stays so.
 */
export function atRecordIn<E extends ListEvent>(event: E, recordRate: Rate): E {
  const { retime, source, anchor } = event;
  if (anchor === null) return event;
  if (retime.kind === 'freeze') return { ...event, anchor: null };
  if (retime.kind === 'keyed')
    return {
      ...event,
      anchor: null,
      retime: { kind: 'keyed', keys: retime.keys.map((k) => ({ record: k.record + anchor.in, source: k.source })) },
    };
  const step = stepOf(event, recordRate);
  const travelled = minus(event.phase, times(step, fraction(anchor.in)));
  const whole = floorOf(travelled);
  const phase = minus(travelled, fraction(whole));
  const asNamed = lengthOf(source) - framesUnder(event, recordRate, lengthOf(anchor), event.phase);
  const used = Math.max(1, framesUnder(event, recordRate, lengthOf(event.record), phase) + asNamed);
  const from = isBackwards(retime) ? source.out - whole - used : source.in + whole;
  return { ...event, anchor: null, phase, source: range(from, from + used) };
}

/** The event with its source on whole frames, as most lists can say it: a phase is rounded to the nearer frame. */
export function onWholeFrame<E extends ListEvent>(event: E): E {
  const { phase, source, retime } = event;
  if (phase.num === 0) return event;
  if (2 * phase.num < phase.den) return { ...event, phase: ZERO };
  const by = isBackwards(retime) ? -1 : 1;
  return { ...event, phase: ZERO, source: range(source.in + by, source.out + by) };
}
