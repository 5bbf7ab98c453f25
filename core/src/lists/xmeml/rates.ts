import { canDropFrames, type Frames, nominal, parseTimecode, type Rate, rateFromDecimal, rateOf, relabel } from '../../time';
import { child, intAt, type Node, numberAt, textAt } from '../../xml';

/** `timebase` is the whole number of labels a second; `ntsc` TRUE makes it that number times 1000/1001. */
export function rateAt(node: Node | null): Rate | null {
  const base = numberAt(node, 'rate', 'timebase');
  if (base === null || base <= 0 || base > 1000) return null;
  // Some systems write 29.97 there.
  if (!Number.isInteger(base)) return rateFromDecimal(base);
  return /^true$/i.test(textAt(node, 'rate', 'ntsc')) ? rateOf(base * 1000, 1001) : rateOf(base);
}

export const withCounting = (rate: Rate, display: string): Rate =>
  /^DF$/i.test(display.trim()) && canDropFrames(rate) ? { ...rate, dropFrame: true } : rate;

/** The rates an item is counted at: `in` and `out` at its own, its media at the file's. */
export interface ItemRates {
  readonly sequence: Rate;
  readonly item: Rate;
  readonly file: Rate;
}

/** How a file is counted. `unread`: it states a timecode that could not be read, and counts from 0. */
export interface FileClock {
  readonly rate: Rate;
  readonly start: Frames;
  readonly unread: boolean;
}

/**
 * The rate of a file, with the way its timecode counts, and its first frame by that timecode; where it states none, as the
 * item. `asRead` is how a rate that is stated is read.
 */
export function fileClock(file: Node | null, item: Rate, asRead: (stated: Rate) => Rate): FileClock {
  const timecode = child(file, 'timecode');
  const display = textAt(timecode, 'displayformat');
  const stated = rateAt(timecode);
  const own = rateAt(file) ?? stated;
  const rate = withCounting(own ? asRead(own) : item, display);
  const counted = stated ? withCounting(stated, display) : rate;
  const [frame, label] = [textAt(timecode, 'frame'), textAt(timecode, 'string')];
  const read = intAt(timecode, 'frame') ?? parseTimecode(label, counted);
  const start = read ?? 0;
  // A camera of 50 frames may count its timecode at 25: the label stays.
  return {
    rate,
    start: nominal(counted) === nominal(rate) ? start : relabel(start, counted, rate),
    unread: read === null && frame + label !== '',
  };
}
