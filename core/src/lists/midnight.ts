import { type FrameRange, type Frames, formatTimecode, formatTimeOfDay, framesPerDay, lengthOf, type Rate, range } from '../time';

/** A source across midnight may be this many times as long as its record, which leaves room for speeds. */
const FASTEST = 8;

/** A source as its labels mean it: frames that go on after 24:00:00:00 where it runs over midnight, and which way it runs. */
export interface LabelledSource {
  readonly source: FrameRange;
  readonly backwards: boolean;
}

/**
 * The source between two labels of day, `from` and `to`, under `length` frames of record. 23:59:58:00 to 00:00:02:00
 * over four seconds runs forward over midnight, and the other way round it runs backwards over it; what would have to
 * be more than eight times as fast does not. Else an out before its in is a reverse. `rate` is the source's.
 */
export function sourceBetween(from: Frames, to: Frames, length: Frames, rate: Rate): LabelledSource {
  const day = framesPerDay(rate);
  const [first, last] = from <= to ? [from, to] : [to, from];
  const over = range(last, first + day);
  const overMidnight = lengthOf(over) <= FASTEST * length && lengthOf(over) < last - first;
  return { source: overMidnight ? over : range(first, last), backwards: overMidnight ? from < to : from > to };
}

/** No cut is longer than this; its labels begin anew at midnight instead. */
const LONGEST_CUT_HOURS = 12;

/**
 * Record spans whose labels are of day, on one line of time: what stands after midnight counts on from 24:00:00:00, so
 * that a cut which runs over it keeps its order. Where the spans lie within half a day of each other as they are
 * written, they stay. A span whose out is before its in is one that runs over midnight itself.
 */
export function recordsInOrder(spans: readonly FrameRange[], rate: Rate): readonly FrameRange[] {
  const day = framesPerDay(rate);
  const longest = (day / 24) * LONGEST_CUT_HOURS;
  const begin = startOfDay(spans, day, longest);
  return spans.map((span) => {
    const by = span.in < begin ? day : 0;
    const overMidnight = span.out < span.in && span.out + day - span.in <= longest;
    if (by === 0 && !overMidnight) return span;
    return range(span.in + by, span.out + by + (overMidnight ? day : 0));
  });
}

/** Where the labels of a cut begin that is over before the day is half gone; 0 where it does not run over midnight. */
function startOfDay(spans: readonly FrameRange[], day: Frames, longest: Frames): Frames {
  const starts = [...new Set(spans.map((s) => s.in % day))].sort((a, b) => a - b);
  const [first = 0, last = 0] = [starts[0], starts.at(-1)];
  if (last - first <= longest) return 0;
  // The cut begins after the widest stretch of the day that holds none of it.
  let [begin, widest] = [first, first + day - last];
  for (let i = 1; i < starts.length; i++) {
    const gap = (starts[i] as Frames) - (starts[i - 1] as Frames);
    if (gap > widest) [begin, widest] = [starts[i] as Frames, gap];
  }
  return day - widest <= longest && begin !== first ? begin : 0;
}

/** How the record of a cut is labelled: of day where it runs over midnight, as no label of day is later than 23:59:59. */
export function recordLabel(span: FrameRange, rate: Rate): (frame: Frames, rate: Rate) => string {
  const day = framesPerDay(rate);
  return span.in < day && span.out > day ? formatTimeOfDay : formatTimecode;
}
