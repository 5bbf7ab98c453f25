import { mkdirSync } from 'node:fs';
import path from 'node:path';
import {
  CLIP_CODECS,
  type Conform,
  compile,
  type Frames,
  formatTimecode,
  hasFrame,
  lengthOf,
  newPicture,
  type Original,
  type Part,
  pictureAt,
  type Raster,
  type Standing,
  sameSpeed,
} from '@gemello/core';
import { AV_PIX_FMT_RGB24, AV_PIX_FMT_RGB48LE, SWS_BICUBIC } from 'node-av/constants';
import { compositionOf, openCompositor, openSources, toRgb24, toRgb48 } from '../compose';
import { makeBurnIn, USUAL_BURN } from '../engine/burn';
import { makeScaler } from '../engine/scaler';
import { openMovieWriter } from '../engine/writer';
import { MediaError, type RenderCodec, whole, withRoom } from '../plain';
import { probeMovie } from '../probe';
import { CODED } from './clips';
import { type Report, type StopSignal, stopIfAsked } from './task';

export interface RenderPayload {
  /** The cut as it stands, with its pairs and grades. */
  readonly list: Standing;
  readonly originals: readonly Original[];
  /** The movie to write; its container follows the extension. */
  readonly file: string;
  readonly codec: RenderCodec;
  /** Null: the frame of the cut. */
  readonly size: Raster | null;
  /** Draws the title of the cut and the record timecode into the pictures. */
  readonly burnIn: boolean;
  /** A file whose sound goes along: its own beginning lies `begins` seconds after the first frame of the cut, before it where negative. Null for none. */
  readonly sound: { readonly path: string; readonly begins: number } | null;
}

/** Events whose pictures were not all there, by key, with how many record frames show a stand-in or the frame before. */
export type Lacking = Readonly<Record<string, Frames>>;

export interface RenderResult {
  readonly file: string;
  readonly frames: Frames;
  readonly raster: Raster;
  readonly missing: Lacking;
  /** Keys of events whose wipe has a pattern that is not drawn; it was mixed. */
  readonly mixed: readonly string[];
  readonly seconds: number;
}

/** Pictures kept at their size between frames, so that one that was looked at for its alpha is not read twice. */
const KEPT_BYTES = 512 * 1024 * 1024;

/**
 * Writes the whole conform as one movie through the compositor. It appears under its name only when it is complete and
 * was opened again: as many frames, the rate and the start of the cut. Never written over an original.
 */
export function render(payload: RenderPayload, report: Report, signal: StopSignal): RenderResult {
  const began = performance.now();
  const conform = compile(payload.list, payload.originals);
  const file = path.resolve(payload.file);
  const total = lengthOf(conform.span);
  if (total === 0) throw new MediaError('The cut has no event in the picture; there is nothing to render.');
  for (const original of payload.originals)
    if (path.resolve(original.path) === file) throw new MediaError(`${file} is an original; nothing is written over it.`);
  if (payload.sound && path.resolve(payload.sound.path) === file)
    throw new MediaError(`${file} is the sound that goes along; name another file.`);
  mkdirSync(path.dirname(file), { recursive: true });
  const raster = even(payload.size ?? conform.frame.raster);
  const bytes = total * raster.width * raster.height * CLIP_CODECS[payload.codec].bytes;
  const written = { missing: {} as Record<string, Frames>, mixed: new Set<string>() };
  const write = (half: string) => {
    writeFrames(conform, payload, half, raster, written, (done) => report({ done, total, what: path.basename(file) }), signal);
    stopIfAsked(signal);
    mustBe(half, conform, total);
  };
  withRoom(
    path.dirname(file),
    { what: 'The movie', instead: 'make it smaller' },
    () => bytes,
    () => whole(file, write),
  );
  return { file, frames: total, raster, missing: written.missing, mixed: [...written.mixed], seconds: (performance.now() - began) / 1000 };
}

const even = ({ width, height }: Raster): Raster => ({
  width: Math.max(2, width - (width % 2)),
  height: Math.max(2, height - (height % 2)),
});

function writeFrames(
  conform: Conform,
  payload: RenderPayload,
  half: string,
  { width, height }: Raster,
  written: { missing: Record<string, Frames>; mixed: Set<string> },
  onFrame: (done: Frames) => void,
  signal: StopSignal,
): void {
  const { span, rate } = conform;
  const seconds = (lengthOf(span) * rate.den) / rate.num;
  const writer = openMovieWriter(half, {
    writer: CODED[payload.codec],
    raster: { width, height },
    rate,
    timecode: formatTimecode(span.in, rate),
    reel: null,
    threads: 2,
    sound: payload.sound ? [{ path: payload.sound.path, from: payload.sound.begins, to: seconds }] : [],
  });
  const compositor = openCompositor(openSources(2, KEPT_BYTES, 'held'));
  const burn = payload.burnIn ? makeBurnIn(width, height, USUAL_BURN) : null;
  const toRgb = makeScaler(width, height, AV_PIX_FMT_RGB24, 'full', SWS_BICUBIC);
  const small = new Uint8Array(width * height * 3);
  const large = new Uint16Array(width * height * 3);
  const picture = newPicture();
  const lack = (key: string) => {
    written.missing[key] = (written.missing[key] ?? 0) + 1;
  };
  try {
    for (let n = span.in; n < span.out && !signal.aborted; n++) {
      const composition = compositionOf(pictureAt(conform, n, picture), conform.frame);
      for (const part of composition.parts) if (isHeld(part)) lack(part.shot.event.key);
      const burnt = (pixels: Uint8Array) => {
        burn?.(pixels, payload.list.title, formatTimecode(n, rate));
        writer.writePixels(pixels, AV_PIX_FMT_RGB24);
      };
      const plain = compositor.through(composition, width, height, (frame) => {
        if (burn) burnt(new Uint8Array(toRgb.convert(frame).toBuffer()));
        else writer.writeFrame(frame);
      });
      if (!plain) {
        const { canvas, drawing } = compositor.draw(composition, width, height);
        for (const key of drawing.missing) lack(key);
        for (const key of drawing.mixed) written.mixed.add(key);
        if (burn) burnt(toRgb24(canvas, small));
        else writer.writePixels(new Uint8Array(toRgb48(canvas, large).buffer), AV_PIX_FMT_RGB48LE);
      }
      onFrame(n - span.in + 1);
    }
  } finally {
    toRgb.free();
    compositor.close();
    writer.close();
  }
}

/** True when a numbered frame is missing, and the one before it is shown. */
const isHeld = ({ shot: { original }, sourceFrame }: Part): boolean =>
  original !== null && sourceFrame >= 0 && sourceFrame < original.frames && !hasFrame(original, sourceFrame);

function mustBe(file: string, { rate, span }: Conform, frames: Frames): void {
  const made = probeMovie(file);
  const wrong =
    made.frames !== frames
      ? `${made.frames} frames instead of ${frames}`
      : !sameSpeed(made.rate, rate)
        ? 'another rate'
        : made.hasTimecode && formatTimecode(made.start, made.rate).replace(';', ':') !== formatTimecode(span.in, rate).replace(';', ':')
          ? 'another start timecode'
          : null;
  if (wrong) throw new MediaError(`The movie came out with ${wrong}; it is not kept.`);
}
