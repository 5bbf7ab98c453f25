import { mkdirSync } from 'node:fs';
import path from 'node:path';
import {
  type Frames,
  formatTimecode,
  formatTimeOfDay,
  type Original,
  PROXY_BYTES,
  type ProxyCodec,
  type ProxySize,
  proxyRaster,
  sameSpeed,
} from '@gemello/core';
import { AV_PIX_FMT_RGB24, SWS_BICUBIC } from 'node-av/constants';
import type { Frame } from 'node-av/lib';
import { makeBurnIn, USUAL_BURN } from '../engine/burn';
import { openPictures, readHeld } from '../engine/reader';
import { makeScaler } from '../engine/scaler';
import { openMovieWriter } from '../engine/writer';
import { isFaultOfFile, MediaError, whole, withRoom } from '../plain';
import { probeMovie } from '../probe';
import { openRecord } from './record';
import { soundOf } from './sounding';
import { type Report, type StopSignal, stopIfAsked } from './task';

export interface ProxiesPayload {
  /** Each with the folder its copy goes into, from `folder` on. */
  readonly clips: readonly { readonly original: Original; readonly into: string }[];
  /** A folder of the job's own. */
  readonly folder: string;
  readonly codec: ProxyCodec;
  readonly size: ProxySize;
  /** Draws name and timecode into the pictures. */
  readonly burnIn: boolean;
}

export interface ProxiesResult {
  readonly made: readonly { readonly original: string; readonly copy: string; readonly reused: boolean }[];
  /** Clips of which no copy could be made, or whose copy is not as it should be. */
  readonly problems: readonly { readonly path: string; readonly message: string }[];
}

/** The record, inside the folder, of what each finished copy was made from. */
const RECORD = 'light-copies.json';
/**
 * Makes proxies: the same file name, timecode, reel, rate and number of frames, sound as it is.
 * Each appears under its name only when it is complete, and is then opened and compared with its
 * original. One that cannot be made is named and does not stop the others. Asked again, finished
 * copies are not made again.
 */
export function makeProxies(payload: ProxiesPayload, report: Report, signal: StopSignal): ProxiesResult {
  const folder = path.resolve(payload.folder);
  for (const { original } of payload.clips)
    if (original.path.startsWith(folder + path.sep)) throw new MediaError(`${original.fileName} is itself a proxy that was made here.`);
  mkdirSync(folder, { recursive: true });
  const record = openRecord(path.join(folder, RECORD));
  const total = payload.clips.reduce((sum, { original }) => sum + original.frames, 0);
  const made: { original: string; copy: string; reused: boolean }[] = [];
  const problems: { path: string; message: string }[] = [];
  const targets = new Set<string>();
  const planned = payload.clips.map(({ original, into }) => {
    const copy = targetOf(folder, into, original, targets);
    const { path: from, stamp, start, reel } = original;
    const mark = JSON.stringify([from, stamp, start, reel, payload.codec, payload.size, payload.burnIn]);
    return { original, copy, mark, reused: record.holds(copy, mark) };
  });
  let [at, before] = [0, 0];
  const left = () => planned.slice(at).reduce((sum, { original, reused }) => sum + (reused ? 0 : bytesOf(original, payload)), 0);
  withRoom(folder, { what: 'The proxies', instead: 'make smaller ones' }, left, () => {
    for (const { original, copy, mark, reused } of planned) {
      stopIfAsked(signal);
      try {
        if (!reused) {
          writeProxy(original, copy, payload, signal, (frame) => report({ done: before + frame, total, what: original.fileName }));
          mustMatch(original, probeMovie(copy));
          record.keep(copy, mark);
        }
        made.push({ original: original.path, copy, reused });
      } catch (error) {
        if (!isFaultOfFile(error)) throw error;
        problems.push({ path: original.path, message: error.message });
      }
      at += 1;
      before += original.frames;
    }
  });
  report({ done: total, total, what: '' });
  return { made, problems };
}

/** About how many bytes the proxy of an original takes. */
function bytesOf(original: Original, { codec, size }: ProxiesPayload): number {
  const { width, height } = proxyRaster(original, size);
  return original.frames * width * height * PROXY_BYTES[codec];
}

/** Where the copy goes: under the original's name; where two of one folder differ by extension only, the later in a folder called by it. */
function targetOf(folder: string, into: string, original: Original, taken: Set<string>): string {
  const extension = path.extname(original.fileName);
  const stem = original.kind === 'frames' ? original.clipName : path.basename(original.fileName, extension);
  // The folder's own way up is not taken, whatever the names say.
  const place = path.join(folder, path.join('/', into));
  const plain = path.join(place, `${stem}.mov`);
  const target = taken.has(plain) ? path.join(place, extension.slice(1) || 'other', `${stem}.mov`) : plain;
  taken.add(target);
  return target;
}

function writeProxy(original: Original, copy: string, payload: ProxiesPayload, signal: StopSignal, onFrame: (done: Frames) => void): void {
  if (original.kind === 'still' || original.kind === 'sound')
    throw new MediaError(`${original.fileName} has no moving picture to make a proxy of.`);
  mkdirSync(path.dirname(copy), { recursive: true });
  whole(copy, (half) => writeFrames(original, half, payload, signal, onFrame));
}

function writeFrames(original: Original, half: string, payload: ProxiesPayload, signal: StopSignal, onFrame: (done: Frames) => void): void {
  const raster = proxyRaster(original, payload.size);
  const label = (n: Frames) => formatTimeOfDay(original.start + n, original.rate);
  const reader = openPictures(original, 2);
  const writer = openMovieWriter(half, {
    writer: payload.codec,
    raster,
    rate: original.clock,
    timecode: original.hasTimecode ? label(0) : null,
    reel: original.reel || null,
    threads: 2,
    sound: soundOf(original),
  });
  const burn = payload.burnIn ? makeBurnIn(raster.width, raster.height, USUAL_BURN) : null;
  const scaler = makeScaler(raster.width, raster.height, AV_PIX_FMT_RGB24, 'full', SWS_BICUBIC);
  let written = 0;
  const write = (frame: Frame) => {
    if (burn) {
      const pixels = new Uint8Array(scaler.convert(frame).toBuffer());
      burn(pixels, original.clipName, label(written));
      writer.writePixels(pixels, AV_PIX_FMT_RGB24);
    } else writer.writeFrame(frame);
    written++;
  };
  try {
    readHeld(original, reader, 0, original.frames, (frame, number) => {
      // A picture that could not be decoded is held by the one after it, so that all keep their places.
      while (written <= number && !signal.aborted) write(frame);
      onFrame(written);
      return signal.aborted ? false : undefined;
    });
  } finally {
    scaler.free();
    reader.close();
    writer.close();
  }
  stopIfAsked(signal);
  if (written !== original.frames)
    throw new MediaError(`${original.fileName} gave ${written} of ${original.frames} frames; copy it again from the card.`);
}

/** The label of the first frame: what copy and original must share, whatever rate it is counted at. */
const startOf = (o: Original): string => formatTimecode(o.start, o.rate);

/** Throws when a copy is not what editing by it needs: as many frames, the same rate, start, reel and tracks of sound. */
function mustMatch(original: Original, copy: Original): void {
  const wrong =
    copy.frames !== original.frames
      ? `${copy.frames} frames instead of ${original.frames}`
      : !sameSpeed(copy.rate, original.clock)
        ? 'another rate'
        : original.hasTimecode && (!copy.hasTimecode || startOf(copy) !== startOf(original))
          ? 'another start timecode'
          : (original.sound !== null) !== (copy.sound !== null)
            ? 'no sound'
            : null;
  if (wrong) throw new MediaError(`The proxy of ${original.fileName} came out with ${wrong}; it is not used.`);
}
