import type { PairState, Verdict } from '@gemello/core';
import type { LedgerRow } from '../../contract';

/** How an event looks on the ribbon: by its state, or by what the proof found. */
export type Look = PairState | Verdict;

/** A block of the ribbon: one event, or several in a row that are too narrow to be told apart. */
export interface Block {
  readonly first: LedgerRow;
  readonly count: number;
  readonly left: number;
  readonly width: number;
  /** The gravest of them, so that what is open never hides behind what is settled. */
  readonly look: Look;
  /** True where some of them look otherwise. */
  readonly mixed: boolean;
}

const GRAVEST: readonly Look[] = [
  'unpaired',
  'away',
  'short',
  'doubtful',
  'contested',
  'proposed',
  'differs',
  'uncertain',
  'unchecked',
  'paired',
  'same',
  'exempt',
];
/** Pixels: narrower events stand as one with their neighbours. */
const NARROW = 2;

export const lookOf = (row: LedgerRow, byVerdict: boolean): Look =>
  byVerdict && row.proof && !row.proof.stale ? row.proof.verdict : row.state;

/** The blocks of a layer, in record order: no more of them than there are pixels, however many events it has. */
export function blocksOf(rows: readonly LedgerRow[], x: (frame: number) => number, byVerdict: boolean): Block[] {
  const blocks: Block[] = [];
  for (const row of rows) {
    const left = x(row.recordFrames.in);
    const right = x(row.recordFrames.out);
    const look = lookOf(row, byVerdict);
    const before = blocks.at(-1);
    const end = Math.max(left + 1, right - 1);
    if (before && right - left < NARROW && joins(before, left, look)) {
      blocks[blocks.length - 1] = {
        ...before,
        count: before.count + 1,
        width: Math.max(before.width, end - before.left),
        look: GRAVEST.indexOf(look) < GRAVEST.indexOf(before.look) ? look : before.look,
        mixed: before.mixed || look !== before.look,
      };
    } else blocks.push({ first: row, count: 1, left, width: end - left, look, mixed: false });
  }
  return blocks;
}

/** It stands right beside a run of its own look, or in the pixel that the block begins in. */
function joins(before: Block, left: number, look: Look): boolean {
  if (before.count === 1 && before.width >= NARROW) return false;
  if (left - (before.left + before.width) > NARROW) return false;
  return before.look === look || left - before.left < 1;
}
