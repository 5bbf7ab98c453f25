import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/** One line of the table: ours and the yardstick, in seconds, and how often ours goes into the yardstick. */
export interface Figure {
  readonly name: string;
  readonly ours: number;
  readonly yardstick: number;
  readonly yardstickName: string;
  /** Plain figure beside the ratio, such as files per second. */
  readonly note: string;
}

/** How long a piece of work takes. */
export const seconds = async (work: () => unknown): Promise<number> => {
  const from = performance.now();
  await work();
  return (performance.now() - from) / 1000;
};
const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1] ?? Number.NaN;

/** Runs both in turn, after one warm-up each, so that a drift of the machine's speed hits both alike; medians. */
export async function inTurn(ours: () => unknown, yardstick: () => unknown, runs = 5): Promise<{ ours: number; yardstick: number }> {
  await ours();
  await yardstick();
  const [a, b]: [number[], number[]] = [[], []];
  for (let i = 0; i < runs; i++) {
    a.push(await seconds(ours));
    b.push(await seconds(yardstick));
  }
  return { ours: median(a), yardstick: median(b) };
}

/** A folder that is removed when the work in it is done. */
export async function inFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = mkdtempSync(path.join(tmpdir(), 'gemello-bench-'));
  try {
    return await work(folder);
  } finally {
    rmSync(folder, { recursive: true });
  }
}
