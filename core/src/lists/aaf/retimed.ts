import { framesUnder } from '../../conform';
import type { Placement, Retime, SpeedKey } from '../../edit';
import {
  commonDivisor,
  decimalOf,
  type Fraction,
  type Frames,
  floorOf,
  fraction,
  magnitude,
  minus,
  ONE,
  over,
  plus,
  type Rate,
  sameSpeed,
  times,
  ZERO,
} from '../../time';
import { labelsOf } from './clips';
import type { Piece, Shown } from './pieces';
import { placeAt, type TimeRun } from './time-run';

/** What cannot be said of a clip under a speed: that its input changes its own speed or its size on the way. */
export type Unsaid = 'speed-in-speed' | 'moving-placement';

/**
 * One layer of a speed effect's input, as the effect runs over it: `pieces` are counted from 0 in the input, what comes back stands on the
 * `length` frames from `at` on. A clip of several is seen wherever the run comes by it, in the order it does; one clip alone is seen throughout,
 * since a run that leads beyond the input leads on in its source. `unsaid` is told of each piece that cannot be run exactly.
 */
export function retimedPieces(
  run: TimeRun,
  pieces: readonly Piece[],
  at: number,
  length: Frames,
  rate: Rate,
  unsaid: (why: Unsaid, shown: Shown) => void,
): Piece[] {
  const retimed = (piece: Piece, from: Frames, to: Frames): Piece => ({
    ...piece,
    in: at + from,
    out: at + to,
    lead: 0,
    join: null,
    show: shown(run, piece, from, rate, unsaid),
  });
  const [only] = pieces;
  if (pieces.length === 1 && only?.show) return [retimed(only, 0, length)];
  const found: Piece[] = [];
  let [open, from]: [Piece | undefined, Frames] = [undefined, 0];
  const close = (to: Frames) => {
    if (open && to > from) found.push(retimed(open, from, to));
  };
  for (let n = 0; n < length; n++) {
    const place = floorOf(placeAt(run, n));
    const here = pieces.find((p) => place >= p.in && place < p.out) ?? (place < 0 ? pieces[0] : pieces.at(-1));
    if (here === open) continue;
    close(n);
    [open, from] = [here, n];
  }
  close(length);
  return found;
}

/** How a piece is shown from frame `from` of the effect on. */
function shown(run: TimeRun, piece: Piece, from: Frames, rate: Rate, unsaid: (why: Unsaid, shown: Shown) => void): Piece['show'] {
  const { show } = piece;
  if (!show) return null;
  const first = show(piece.lead, 1);
  if (!canRun(first.retime, run)) {
    unsaid('speed-in-speed', first);
    return (lead, length) => show(piece.lead + lead, length);
  }
  if (first.placement && first.placement.keys.length > 0 && run.kind !== 'even') unsaid('moving-placement', first);
  const content = (n: Frames): Fraction => plus(placeAt(run, n), fraction(piece.lead - piece.in));
  return (lead, length) => {
    const n = from + lead;
    switch (run.kind) {
      case 'held': {
        const frame = show(floorOf(content(n)), 1);
        return {
          ...frame,
          source: { in: frame.source.in, out: frame.source.in + 1 },
          retime: { kind: 'freeze' },
          phase: ZERO,
          placement: still(frame.placement),
        };
      }
      case 'even':
        return run.speed.num > 0
          ? forwards(show, content(n), run.speed, length, rate)
          : backwards(show, content(n), run.speed, length, rate);
      case 'keyed': {
        const place = content(n);
        const begins = floorOf(place);
        const frame = show(begins, 1);
        const scale = sourceScale(rate, frame.sourceRate);
        const offset = piece.lead - piece.in - begins;
        // Where the source counts finer than the track, it begins some frames further on.
        const further = Math.floor(decimalOf(minus(place, fraction(begins))) * scale + 1e-9);
        // Keys count from the event's record in: what a transition took from its head is before it.
        const keys = run.keys.map((k) => ({ record: k.record - n, source: (k.source + offset) * scale - further }));
        const used = withoutSpareEnds(keys, length);
        const most = Math.ceil(Math.max(...used.map((k) => k.source)));
        const first = frame.source.in + further;
        const source = { in: first, out: first + Math.max(1, most) };
        return {
          ...frame,
          source,
          sourceLabels: labelsOf(source, frame.sourceRate),
          retime: { kind: 'keyed', keys: used },
          phase: ZERO,
          placement: still(frame.placement),
        };
      }
    }
  };
}

/**
 * Keys without those that only draw out the speed between the two next to them, ahead of the event and behind it: a file states where an effect
 * begins and ends too.
 */
function withoutSpareEnds(keys: readonly SpeedKey[], length: Frames): readonly SpeedKey[] {
  let [from, to] = [0, keys.length];
  const inLine = (i: number): boolean => {
    const [a, b, c] = [keys[i], keys[i + 1], keys[i + 2]];
    if (!a || !b || !c) return false;
    const [first, second] = [(b.source - a.source) / (b.record - a.record), (c.source - b.source) / (c.record - b.record)];
    return Math.abs(first - second) < 1e-6;
  };
  while (to - from > 2 && (keys[to - 1] as SpeedKey).record >= length && inLine(to - 3)) to--;
  while (to - from > 2 && (keys[from] as SpeedKey).record <= 0 && inLine(from)) from++;
  return keys.slice(from, to);
}

/** A retime can be run again where it is natural, or both go forwards at one speed. */
const canRun = (inner: Retime, run: TimeRun): boolean =>
  inner.kind === 'natural' ||
  inner.kind === 'freeze' ||
  (inner.kind === 'constant' && inner.speed.num > 0 && run.kind === 'even' && run.speed.num > 0);

const sourceScale = (rate: Rate, sourceRate: Rate): number =>
  sameSpeed(rate, sourceRate) ? 1 : (sourceRate.num * rate.den) / (sourceRate.den * rate.num);

function forwards(show: NonNullable<Piece['show']>, place: Fraction, speed: Fraction, length: Frames, rate: Rate): Shown {
  const whole = floorOf(place);
  const frame = show(whole, 1);
  if (frame.retime.kind === 'freeze') return { ...frame, placement: still(frame.placement) };
  const inner = frame.retime.kind === 'constant' ? frame.retime.speed : ONE;
  const combined = times(speed, inner);
  // The part of a frame that the place lies further on, in frames of the source.
  const ratio = sameSpeed(rate, frame.sourceRate)
    ? ONE
    : over(fraction(frame.sourceRate.num, frame.sourceRate.den), fraction(rate.num, rate.den));
  const begun = plus(frame.phase, times(times(minus(place, fraction(whole)), inner), ratio));
  const extra = floorOf(begun);
  const phase = minus(begun, fraction(extra));
  const retime: Retime = combined.num === combined.den ? { kind: 'natural' } : { kind: 'constant', speed: combined };
  const used = framesUnder({ retime, sourceRate: frame.sourceRate, rateMode: 'usual' }, rate, length, phase);
  const source = { in: frame.source.in + extra, out: frame.source.in + extra + used };
  return { ...frame, source, sourceLabels: labelsOf(source, frame.sourceRate), retime, phase, placement: slower(frame.placement, speed) };
}

/**
 * Backwards a source is named by the frames it uses, and begins with its last. What is shown is the frame below `place - n x speed`; counted from
 * the last frame on that is the frame above, so that the part of a frame it begins with is the one that makes both the same.
 */
function backwards(show: NonNullable<Piece['show']>, place: Fraction, speed: Fraction, length: Frames, rate: Rate): Shown {
  const fast = magnitude(speed);
  const fine = (place.den / commonDivisor(place.den, fast.den)) * fast.den;
  const begun = minus(fraction(fine - 1, fine), place);
  const last = -floorOf(begun);
  const phase = plus(begun, fraction(last));
  const frame = show(last, 1);
  if (frame.retime.kind === 'freeze') return { ...frame, placement: still(frame.placement) };
  const retime: Retime = { kind: 'constant', speed };
  const used = framesUnder({ retime, sourceRate: frame.sourceRate, rateMode: 'usual' }, rate, length, phase);
  const source = { in: frame.source.in + 1 - used, out: frame.source.in + 1 };
  return { ...frame, source, sourceLabels: labelsOf(source, frame.sourceRate), retime, phase, placement: still(frame.placement) };
}

/** A placement as it is where it begins. */
const still = (placement: Placement | null): Placement | null =>
  placement && placement.keys.length > 0 ? { ...placement, keys: [] } : placement;

/** A placement that moves under a speed takes as many frames more as the speed is slower. */
const slower = (placement: Placement | null, speed: Fraction): Placement | null =>
  placement && placement.keys.length > 0
    ? { ...placement, keys: placement.keys.map((k) => ({ ...k, record: k.record / decimalOf(speed) })) }
    : placement;
