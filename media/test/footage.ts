import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Original, RATES, type Rate } from '@gemello/core';
import { AV_PIX_FMT_RGBA } from 'node-av/constants';
import { dpxFrame } from '../../demo/src/dpx';
import { type MovieSettings, openMovieWriter, type WriterName } from '../src/engine';

export const RASTER = { width: 256, height: 144 } as const;
const BITS = 12;

/** A picture that carries its own number: twelve bars, white for 1, over a slope that moves. */
export function numbered(n: number): Uint8ClampedArray {
  const { width, height } = RASTER;
  const pixels = new Uint8ClampedArray(width * height * 4);
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at += 4) {
      const bit = (n >> Math.floor((x * BITS) / width)) & 1;
      const v = y < height / 2 ? 40 + bit * 170 : 60 + ((x * 2 + y + n * 5) % 120);
      pixels[at] = v;
      pixels[at + 1] = v;
      pixels[at + 2] = v;
      pixels[at + 3] = 255;
    }
  return pixels;
}

/** The number a picture carries, read from the middle of each bar. */
export function numberIn(pixels: Uint8Array, width: number, height: number): number {
  let n = 0;
  for (let bit = 0; bit < BITS; bit++) {
    const x = Math.floor(((bit + 0.5) * width) / BITS);
    const y = Math.floor(height / 4);
    if ((pixels[(y * width + x) * 3] ?? 0) > 125) n |= 1 << bit;
  }
  return n;
}

export interface Clip {
  readonly name: string;
  readonly writer: WriterName;
  readonly rate: Rate;
  readonly start: string;
  readonly reel: string;
  readonly frames: number;
}

/** One clip of every kind of file that Gemello writes, at several rates and both ways of counting. MP4 has no place for a reel. */
export const CLIPS: readonly Clip[] = [
  { name: 'A001C001.mov', writer: 'intra', rate: RATES['23.976'], start: '01:00:00:00', reel: 'A001', frames: 60 },
  { name: 'A001C002.mov', writer: 'intra-8bit', rate: RATES['25'], start: '10:11:12:13', reel: 'A001', frames: 50 },
  { name: 'B002C001.mxf', writer: 'intra-mpeg', rate: RATES['25'], start: '02:00:00:24', reel: 'B002', frames: 40 },
  { name: 'D003C001.mov', writer: 'long-gop', rate: RATES['29.97df'], start: '00:09:58;10', reel: 'D003', frames: 130 },
  { name: 'D003C002.mp4', writer: 'long-gop', rate: RATES['24'], start: '23:59:50:00', reel: '', frames: 121 },
];

const writePixels = (movie: ReturnType<typeof openMovieWriter>, n: number) =>
  movie.writePixels(new Uint8Array(numbered(n).buffer), AV_PIX_FMT_RGBA);

/** Writes a clip whose frame n carries `first + n`, with the sound of other files where they are named. */
export function writeClip(file: string, clip: Omit<Clip, 'name'> & Pick<MovieSettings, 'sound'>, first = 0): void {
  mkdirSync(path.dirname(file), { recursive: true });
  const { writer, rate, start: timecode, reel, sound = [] } = clip;
  const movie = openMovieWriter(file, { writer, raster: RASTER, rate, timecode, reel, sound });
  for (let n = 0; n < clip.frames; n++) writePixels(movie, first + n);
  movie.close();
}

/** Writes numbered DPX frames with header timecode from 04:00:00:00 at 24; frame n carries n. */
export function writeFrames(folder: string, frames: number): void {
  mkdirSync(folder, { recursive: true });
  for (let n = 0; n < frames; n++) {
    const timecode = `04:00:${String(Math.floor(n / 24)).padStart(2, '0')}:${String(n % 24).padStart(2, '0')}`;
    const name = `S004.${String(1001 + n).padStart(7, '0')}.dpx`;
    writeFileSync(
      path.join(folder, name),
      dpxFrame(numbered(n), RASTER.width, RASTER.height, { timecode, framesPerSecond: 24, device: 'S004', name, position: n }),
    );
  }
}

/** A folder of its own for a test file, with the footage in it; `end` removes it. */
export function footage(): { folder: string; end: () => void } {
  const folder = mkdtempSync(path.join(tmpdir(), 'gemello-'));
  for (const clip of CLIPS) writeClip(path.join(folder, 'cards', clip.name.slice(0, 4), clip.name), clip);
  writeFrames(path.join(folder, 'cards', 'S004'), 30);
  return { folder: path.join(folder, 'cards'), end: () => existsSync(folder) && rmSync(folder, { recursive: true }) };
}

export const named = (originals: readonly Original[], fileName: string): Original => {
  const found = originals.find((o) => o.fileName === fileName);
  if (!found) throw new Error(`no original ${fileName}`);
  return found;
};
