import { statSync } from 'node:fs';
import { type Cdl, type Frames, gradePixels, isNeutral } from '@gemello/core';
import { LRUCache } from 'lru-cache';
import { AV_PIX_FMT_GRAY8, AV_PIX_FMT_RGB24, SWS_AREA, SWS_BICUBIC } from 'node-av/constants';
import { openPictures, type PictureReader, type Readable } from './engine/reader';
import { makeScaler, type Scaler } from './engine/scaler';

/** Packed 8-bit R, G, B, rows from the top. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly pixels: Uint8Array;
}

/** Height that keeps the clip's proportions at a width, even numbers only. */
export const heightFor = (width: number, raster: { width: number; height: number }): number =>
  Math.max(2, Math.round((width * raster.height) / raster.width / 2) * 2);

interface OpenClip {
  readonly reader: PictureReader;
  scaler: Scaler | null;
  scaledTo: string;
}

/** Pictures as they were scaled, ungraded, for going back and forth; at most this many bytes on a thread. */
const KEPT_BYTES = 48 * 1024 * 1024;
const kept = new LRUCache<string, Picture>({ maxSize: KEPT_BYTES, sizeCalculation: (p) => p.pixels.byteLength });

const OPEN_AT_ONCE = 8;
const open = new Map<string, OpenClip>();

/** A file that was replaced under the same path is another file. */
function keyOf(clip: Readable): string {
  const { size, mtimeMs } = statSync(clip.path, { throwIfNoEntry: false }) ?? { size: 0, mtimeMs: 0 };
  return `${clip.path}\n${size}\n${mtimeMs}\n${clip.pieces.length}`;
}

/** Readers stay open for the clips looked at last; the longest unused is closed first. */
function opened(clip: Readable, clipKey: string): OpenClip {
  const known = open.get(clipKey);
  if (known) {
    open.delete(clipKey);
    open.set(clipKey, known);
    return known;
  }
  const made: OpenClip = { reader: openPictures(clip, 1), scaler: null, scaledTo: '' };
  open.set(clipKey, made);
  for (const [key, oldest] of open) {
    if (open.size <= OPEN_AT_ONCE) break;
    open.delete(key);
    closeClip(oldest);
  }
  return made;
}

function closeClip(clip: OpenClip): void {
  clip.scaler?.free();
  clip.reader.close();
}

/** Closes every clip that was kept open, and lets go of kept pictures. */
export function closePictures(): void {
  kept.clear();
  for (const clip of open.values()) closeClip(clip);
  open.clear();
}

/**
 * Exactly frame `number` (from 0) of a clip, at a raster, graded when a CDL is given. Null when the
 * clip has no such frame. Correct at any frame of long-GOP and intra files alike.
 */
export function grabPicture(clip: Readable, number: Frames, width: number, height: number, cdl: Cdl | null = null): Picture | null {
  const clipKey = keyOf(clip);
  const key = `${clipKey}\n${number}\n${width}x${height}`;
  const picture = kept.get(key) ?? decodePicture(clip, clipKey, number, width, height);
  if (!picture) return null;
  kept.set(key, picture);
  if (!cdl || isNeutral(cdl)) return picture;
  const graded = { ...picture, pixels: picture.pixels.slice() };
  gradePixels(cdl, 256)(graded.pixels, 3);
  return graded;
}

function decodePicture(clip: Readable, clipKey: string, number: Frames, width: number, height: number): Picture | null {
  const at = opened(clip, clipKey);
  const raster = `${width}x${height}`;
  if (at.scaledTo !== raster) {
    at.scaler?.free();
    at.scaler = makeScaler(width, height, AV_PIX_FMT_RGB24, 'full', SWS_BICUBIC);
    at.scaledTo = raster;
  }
  const found: Picture[] = [];
  try {
    at.reader.read(number, number + 1, (frame, n) => {
      if (n === number && at.scaler) found.push({ width, height, pixels: new Uint8Array(at.scaler.convert(frame).toBuffer()) });
      return false;
    });
  } catch (error) {
    open.delete(clipKey);
    closeClip(at);
    throw error;
  }
  return found[0] ?? null;
}

/**
 * Small luma pictures of frames `first` up to `end` (exclusive), one byte a pixel, video range
 * stretched to 0..255 left as it is. The picture fills the width; what stands over at top and
 * bottom is cut, what is missing is black. `use` gets a view that is only valid during the call.
 */
export function readLuma(
  clip: Readable & { raster: { width: number; height: number } },
  grid: { width: number; height: number },
  first: Frames,
  end: Frames,
  use: (luma: Uint8Array, number: Frames) => boolean | undefined,
): void {
  const height = heightFor(grid.width, clip.raster);
  const reader = openPictures(clip, 2, 'small');
  const scaler = makeScaler(grid.width, height, AV_PIX_FMT_GRAY8, 'full', SWS_AREA);
  const fitted = new Uint8Array(grid.width * grid.height);
  try {
    reader.read(first, end, (frame, number) => {
      const luma = scaler.convert(frame).toBuffer();
      return use(height === grid.height ? luma : fit(luma, height, grid, fitted), number);
    });
  } finally {
    scaler.free();
    reader.close();
  }
}

function fit(luma: Uint8Array, height: number, grid: { width: number; height: number }, into: Uint8Array): Uint8Array {
  into.fill(0);
  const skip = Math.max(0, (height - grid.height) >> 1);
  const down = Math.max(0, (grid.height - height) >> 1);
  const rows = Math.min(height, grid.height);
  into.set(luma.subarray(skip * grid.width, (skip + rows) * grid.width), down * grid.width);
  return into;
}
