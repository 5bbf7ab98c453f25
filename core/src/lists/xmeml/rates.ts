import {
  canDropFrames,
  type Frames,
  formatTimecode,
  nominal,
  parseTimecode,
  type Rate,
  rateFromDecimal,
  rateOf,
  relabel,
} from '../../time';
import { child, intAt, type Node, numberAt, textAt } from '../../xml';

/** `timebase` is the whole number of labels a second; `ntsc` TRUE makes it that number times 1000/1001. */
export function rateAt(node: Node | null): Rate | null {
  const base = numberAt(node, 'rate', 'timebase');
  if (base === null || base <= 0 || base > 1000) return null;
  // Some systems write 29.97 there.
  if (!Number.isInteger(base)) return rateFromDecimal(base);
  return /^true$/i.test(textAt(node, 'rate', 'ntsc')) ? rateOf(base * 1000, 1001) : rateOf(base);
}

/** A rate with the way its timecode counts: as it is displayed; where nothing says that, a semicolon in its text does. */
export const withCounting = (rate: Rate, timecode: Node | null): Rate => {
  const display = textAt(timecode, 'displayformat').trim();
  const drops = /^DF$/i.test(display) || (display === '' && textAt(timecode, 'string').includes(';'));
  return drops && canDropFrames(rate) ? { ...rate, dropFrame: true } : rate;
};

/** Where a timecode begins. */
interface Begun {
  /** Its first count, at the rate that was asked for; null where it states none that can be read. */
  readonly start: Frames | null;
  /** The label of its text, where that names another frame than its count. */
  readonly otherwise: { readonly label: string; readonly text: string } | null;
}

/**
 * The first frame of a timecode, counted at `rate`. It may count at a rate of its own: 50 frames a second labelled as 25, or 59.94 as drop-frame at 29.97;
 * then its label stays, and the count follows it. Where its text and its count name two frames, the count is taken at whichever of both rates
 * makes them agree, else at its own.
 */
export function begunAt(timecode: Node | null, rate: Rate): Begun {
  const own = withCounting(rateAt(timecode) ?? rate, timecode);
  const [frame, text] = [intAt(timecode, 'frame'), textAt(timecode, 'string').trim()];
  const label = text === '' ? null : parseTimecode(own.dropFrame ? text : text.replace(';', ':'), own);
  const asAsked = (count: Frames): Frames => (nominal(own) === nominal(rate) ? count : relabel(count, own, rate));
  if (frame === null) return { start: label === null ? null : asAsked(label), otherwise: null };
  if (label === null || label === frame) return { start: asAsked(frame), otherwise: null };
  // The text says that the count is one of the asked rate after all.
  if (asAsked(label) === frame) return { start: frame, otherwise: null };
  return { start: asAsked(frame), otherwise: { label: formatTimecode(frame, own), text } };
}

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
  readonly otherwise: Begun['otherwise'];
}

/**
 * The rate of a file, with the way its timecode counts, and its first frame by that timecode; where it states none, as the
 * item. `asRead` is how a rate that is stated is read.
 */
export function fileClock(file: Node | null, item: Rate, asRead: (stated: Rate) => Rate): FileClock {
  const timecode = child(file, 'timecode');
  const own = rateAt(file) ?? rateAt(timecode);
  const rate = withCounting(own ? asRead(own) : item, timecode);
  const { start, otherwise } = begunAt(timecode, rate);
  return { rate, start: start ?? 0, unread: start === null && textAt(timecode, 'frame') + textAt(timecode, 'string') !== '', otherwise };
}
