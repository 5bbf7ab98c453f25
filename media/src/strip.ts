import { randomUUID } from 'node:crypto';
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, readSync, renameSync, statSync, unlinkSync, writeSync } from 'node:fs';
import path from 'node:path';
import { type Frames, GRID, type Original, PRINTED, printOf, type Raster } from '@gemello/core';
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
    const make = (write: (luma: Uint8Array) => void) => pictures(clip, raster, 1, report, signal, write);
    if (!cache) {
      const made = inMemory(make);
      return new LumaStrip(made.length / size, size, made, null);
    }
    const file = kept(keptFile(clip, sizeOf(raster), cache), make);
    return new LumaStrip(Math.floor(statSync(file).size / size), size, null, openSync(file, 'r'));
  }

  /** True when a clip's strip is kept already. */
  static isKept(clip: Original, raster: Raster, cache: string | null): boolean {
    return cache !== null && existsSync(keptFile(clip, sizeOf(raster), cache));
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

const sizeOf = ({ width, height }: Raster): string => `${width}x${height}.luma`;

/**
 * The prints of a clip, one of each sixth frame, from its first: from its strip where that is kept, else from the file, of
 * which no more is decoded than that takes. Kept in `cache` as strips are; 24 bytes a frame.
 */
export function printsOf(clip: Original, cache: string | null, report: Report, signal: StopSignal): Int8Array {
  const make = (write: (print: Uint8Array) => void) => {
    const take = (luma: Uint8Array) => write(new Uint8Array(printOf(luma).buffer));
    if (!LumaStrip.isKept(clip, GRID, cache)) {
      pictures(clip, GRID, PRINTED, report, signal, take);
      return;
    }
    const strip = LumaStrip.of(clip, GRID, cache, report, signal);
    for (let n = 0; n < strip.frames; n += PRINTED) take(strip.frame(n));
    strip.close();
  };
  const bytes = cache ? readFileSync(kept(keptFile(clip, 'prints', cache), make)) : inMemory(make);
  return new Int8Array(bytes.buffer, bytes.byteOffset, bytes.length);
}

/**
 * Where something of a clip is kept. Its name follows the files' sizes, times and inodes, and when anything of them last changed:
 * what is written into a file whose time is set back is another picture too.
 */
function keptFile(clip: Original, what: string, cache: string): string {
  const files = clip.pieces.length > 0 ? clip.pieces.map((p) => p.path) : [clip.path];
  const changed = files.map((file) => Math.round(statSync(file, { throwIfNoEntry: false })?.ctimeMs ?? 0).toString(36)).join('-');
  return path.join(cache, `${stampOf(files).stamp.replace('~', '')}-${changed}-${what}`);
}

/** Hands over small pictures of a clip, of each `step` frames one. */
function pictures(clip: Original, raster: Raster, step: Frames, report: Report, signal: StopSignal, use: (luma: Uint8Array) => void): void {
  let next = 0;
  const black = new Uint8Array(raster.width * raster.height);
  const take = (luma: Uint8Array, number: Frames) => {
    // Frames that cannot be read leave their place free, so that all others stay in theirs.
    for (; next < number; next += step) use(black);
    use(luma);
    next = number + step;
    if (number % 48 === 0) report({ done: number, total: clip.frames, what: `Reading ${clip.fileName}` });
    return signal.aborted ? false : undefined;
  };
  readLuma(clip, raster, 0, clip.frames, take, step);
  if (signal.aborted) throw new Stopped('Stopped');
}

function inMemory(make: (write: (part: Uint8Array) => void) => void): Uint8Array {
  const parts: Uint8Array[] = [];
  make((part) => parts.push(part.slice()));
  return Buffer.concat(parts);
}

/** The file, made whole where it is not there yet. */
function kept(file: string, make: (write: (part: Uint8Array) => void) => void): string {
  if (existsSync(file)) return file;
  mkdirSync(path.dirname(file), { recursive: true });
  const temporary = `${file}.${randomUUID()}.part`;
  const handle = openSync(temporary, 'w');
  try {
    make((part) => writeSync(handle, part));
    closeSync(handle);
    renameSync(temporary, file);
  } catch (error) {
    closeSync(handle);
    unlinkSync(temporary);
    throw error;
  }
  return file;
}
