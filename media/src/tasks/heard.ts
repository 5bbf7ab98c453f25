import { mkdirSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { PEAKS_EACH } from '@gemello/core';
import { HEARD, listen } from '../engine/listen';
import { type Report, type StopSignal, stopIfAsked } from './task';

/** A piece of what is heard of a movie, between two moments in seconds from its first picture. */
export interface PiecePayload {
  readonly path: string;
  readonly from: number;
  readonly to: number;
}

/** Samples of left and right in turn, 48 000 a second, 16 bits; silent where the movie has none. */
export function hearPiece({ path: file, from, to }: PiecePayload): Int16Array {
  const first = Math.round(from * HEARD.sampleRate);
  const heard = new Int16Array(Math.max(0, Math.round(to * HEARD.sampleRate) - first) * HEARD.channels);
  listen(file, from, to, (samples, at) => heard.set(samples, (at - first) * HEARD.channels));
  return heard;
}

/** How loud a movie is along its length, and the file that is to hold it. */
export interface PeaksPayload {
  readonly path: string;
  readonly file: string;
  readonly seconds: number;
}

/** Writes the loudest sample of each hundredth of a second from the first picture on, one byte each: 0 silent, 255 full. */
export function hearPeaks({ path: movie, file, seconds }: PeaksPayload, report: Report, signal: StopSignal): number {
  const peaks = new Uint8Array(Math.max(1, Math.ceil(seconds * PEAKS_EACH)));
  const each = HEARD.sampleRate / PEAKS_EACH;
  listen(movie, 0, seconds, (samples, at) => {
    stopIfAsked(signal);
    for (let i = 0; i < samples.length; i++) {
      const point = Math.floor((at + i / HEARD.channels) / each);
      const loud = Math.min(255, Math.abs(samples[i] as number) >> 7);
      if (loud > (peaks[point] ?? 255)) peaks[point] = loud;
    }
    report({ done: Math.round(at / HEARD.sampleRate), total: Math.ceil(seconds), what: path.basename(movie) });
  });
  mkdirSync(path.dirname(file), { recursive: true });
  const partial = `${file}.${process.pid}.part`;
  writeFileSync(partial, peaks);
  renameSync(partial, file);
  return peaks.length;
}
