import { bisector } from 'd3-array';
import type { Original } from '../originals';
import { type Frames, framesPerDay, type Rate } from '../time';

/** Originals that belong together, such as those of a reel, so that those which hold a timecode are found without looking at each. */
export interface Shelf {
  /** By how their timecode is counted. */
  readonly timed: Map<string, Row>;
  /** Stills and what has no timecode. */
  readonly others: Original[];
}

/** Originals of one rate in the order of their timecode. */
interface Row {
  readonly rate: Rate;
  readonly originals: Original[];
  /** The most frames that any of them has. */
  longest: Frames;
  sorted: boolean;
}

export const newShelf = (): Shelf => ({ timed: new Map(), others: [] });

const countingOf = ({ num, den, dropFrame }: Rate): string => `${num}/${den}${dropFrame ? 'd' : ''}`;

export function putOn(shelf: Shelf, original: Original): void {
  if (original.kind === 'still' || !original.hasTimecode) {
    shelf.others.push(original);
    return;
  }
  const key = countingOf(original.rate);
  let row = shelf.timed.get(key);
  if (!row) {
    row = { rate: original.rate, originals: [], longest: 0, sorted: true };
    shelf.timed.set(key, row);
  }
  row.originals.push(original);
  row.longest = Math.max(row.longest, original.frames);
  row.sorted = false;
}

const startOf = ({ start }: Original): Frames => start;
const firstFrom = bisector(startOf).left;

/** Those of a shelf that hold some of `length` frames from a label on, which `labelAt` gives in frames of a rate. Timecode of day begins anew at midnight. */
export function* holding(shelf: Shelf, labelAt: (rate: Rate) => Frames, lengthAt: (rate: Rate) => Frames): Generator<Original> {
  for (const row of shelf.timed.values()) {
    if (!row.sorted) {
      row.originals.sort((a, b) => a.start - b.start);
      row.sorted = true;
    }
    const day = framesPerDay(row.rate);
    const from = ((labelAt(row.rate) % day) + day) % day;
    const length = lengthAt(row.rate);
    for (const at of [from - day, from, from + day]) {
      const { originals } = row;
      for (let i = firstFrom(originals, at - row.longest + 1); i < originals.length; i++) {
        const original = originals[i] as Original;
        if (original.start >= at + length) break;
        if (original.start + original.frames > at) yield original;
      }
    }
  }
}
