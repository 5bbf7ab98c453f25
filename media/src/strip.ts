import { randomUUID } from 'node:crypto';
import { closeSync, existsSync, mkdirSync, openSync, readSync, renameSync, statSync, unlinkSync, writeSync } from 'node:fs';
import path from 'node:path';
import type { Frames, Original, Raster } from '@gemello/core';
import { readLuma } from './compose';
import { stampOf } from './probe';
import { type Report, Stopped, type StopSignal } from './tasks/task';

/** The small luma pictures of a whole clip, in memory or in a file that is reused while the clip is unchanged. */
export class LumaStrip {
  private constructor(
    readonly frames: Frames,
    private readonly size: number,
    private readonly memory: Uint8Array | null,
    private readonly handle: number | null,
  ) {}

  /** Reads the strip from the cache folder, or makes it. The cache follows the file, not its name. `raster`: size of its pictures. */
  static of(clip: Original, raster: Raster, cache: string | null, report: Report, signal: StopSignal): LumaStrip {
    const size = raster.width * raster.height;
    if (!cache) {
      const parts: Uint8Array[] = [];
      make(clip, raster, report, signal, (luma) => parts.push(luma.slice()));
      return new LumaStrip(parts.length, size, Buffer.concat(parts), null);
    }
    mkdirSync(cache, { recursive: true });
    const file = stripFile(clip, raster, cache);
    if (!existsSync(file)) writeStrip(file, clip, raster, report, signal);
    return new LumaStrip(Math.floor(statSync(file).size / size), size, null, openSync(file, 'r'));
  }

  /** True when a clip's strip is kept already. */
  static isKept(clip: Original, raster: Raster, cache: string | null): boolean {
    return cache !== null && existsSync(stripFile(clip, raster, cache));
  }

  /** The picture of frame n, 0 up to `frames`. */
  frame(n: Frames): Uint8Array {
    if (this.memory) return this.memory.subarray(n * this.size, (n + 1) * this.size);
    const luma = new Uint8Array(this.size);
    readSync(this.handle as number, luma, 0, this.size, n * this.size);
    return luma;
  }

  close(): void {
    if (this.handle !== null) closeSync(this.handle);
  }
}

/**
 * Where a clip's strip is kept. Its name follows the files' sizes, times and inodes, and when anything of them last changed:
 * what is written into a file whose time is set back is another picture too.
 */
function stripFile(clip: Original, { width, height }: Raster, cache: string): string {
  const files = clip.pieces.length > 0 ? clip.pieces.map((p) => p.path) : [clip.path];
  const changed = files.map((file) => Math.round(statSync(file, { throwIfNoEntry: false })?.ctimeMs ?? 0).toString(36)).join('-');
  return path.join(cache, `${stampOf(files).stamp.replace('~', '')}-${changed}-${width}x${height}.luma`);
}

function make(clip: Original, raster: Raster, report: Report, signal: StopSignal, use: (luma: Uint8Array) => void): void {
  let next = 0;
  const black = new Uint8Array(raster.width * raster.height);
  readLuma(clip, raster, 0, clip.frames, (luma, number) => {
    // Frames that cannot be read leave their place free, so that all others stay in theirs.
    for (; next < number; next++) use(black);
    use(luma);
    next = number + 1;
    if (number % 48 === 0) report({ done: number, total: clip.frames, what: `Reading ${clip.fileName}` });
    return signal.aborted ? false : undefined;
  });
  if (signal.aborted) throw new Stopped('Stopped');
}

function writeStrip(file: string, clip: Original, raster: Raster, report: Report, signal: StopSignal): void {
  const temporary = `${file}.${randomUUID()}.part`;
  const handle = openSync(temporary, 'w');
  try {
    make(clip, raster, report, signal, (luma) => writeSync(handle, luma));
    closeSync(handle);
    renameSync(temporary, file);
  } catch (error) {
    closeSync(handle);
    unlinkSync(temporary);
    throw error;
  }
}
