import { closeSync, existsSync, mkdirSync, openSync, readSync, renameSync, statSync, unlinkSync, writeSync } from 'node:fs';
import path from 'node:path';
import { type Frames, GRID, GRID_SIZE, type Original } from '@gemello/core';
import { readLuma } from './compose';
import { stampOf } from './probe';
import { type Report, Stopped, type StopSignal } from './tasks/task';

/** The small luma pictures of a whole clip, in memory or in a file that is reused while the clip is unchanged. */
export class LumaStrip {
  private constructor(
    readonly frames: Frames,
    private readonly memory: Uint8Array | null,
    private readonly handle: number | null,
  ) {}

  /** Reads the strip from the cache folder, or makes it. The cache follows the file, not its name. */
  static of(clip: Original, cache: string | null, report: Report, signal: StopSignal): LumaStrip {
    if (!cache) {
      const parts: Uint8Array[] = [];
      make(clip, report, signal, (luma) => parts.push(luma.slice()));
      return new LumaStrip(parts.length, Buffer.concat(parts), null);
    }
    mkdirSync(cache, { recursive: true });
    const file = path.join(cache, `${stampOf([clip.path]).stamp.replace('~', '')}-${GRID.width}x${GRID.height}.luma`);
    if (!existsSync(file)) writeStrip(file, clip, report, signal);
    return new LumaStrip(Math.floor(statSync(file).size / GRID_SIZE), null, openSync(file, 'r'));
  }

  /** The picture of frame n, 0 up to `frames`. */
  frame(n: Frames): Uint8Array {
    if (this.memory) return this.memory.subarray(n * GRID_SIZE, (n + 1) * GRID_SIZE);
    const luma = new Uint8Array(GRID_SIZE);
    readSync(this.handle as number, luma, 0, GRID_SIZE, n * GRID_SIZE);
    return luma;
  }

  close(): void {
    if (this.handle !== null) closeSync(this.handle);
  }
}

function make(clip: Original, report: Report, signal: StopSignal, use: (luma: Uint8Array) => void): void {
  readLuma(clip, GRID, 0, clip.frames, (luma, number) => {
    use(luma);
    if (number % 48 === 0) report({ done: number, total: clip.frames, what: 'Reading the reference' });
    return signal.aborted ? false : undefined;
  });
  if (signal.aborted) throw new Stopped('Stopped');
}

function writeStrip(file: string, clip: Original, report: Report, signal: StopSignal): void {
  const temporary = `${file}.${process.pid}.part`;
  const handle = openSync(temporary, 'w');
  try {
    make(clip, report, signal, (luma) => writeSync(handle, luma));
    closeSync(handle);
    renameSync(temporary, file);
  } catch (error) {
    closeSync(handle);
    unlinkSync(temporary);
    throw error;
  }
}
