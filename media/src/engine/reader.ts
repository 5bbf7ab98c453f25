import { statSync } from 'node:fs';
import path from 'node:path';
import { type Frames, fileOfFrame, heldFrame, type Original, type Rate } from '@gemello/core';
import {
  AV_CODEC_PROP_INTRA_ONLY,
  AV_NOPTS_VALUE,
  AVERROR_EAGAIN,
  AVERROR_EOF,
  AVMEDIA_TYPE_VIDEO,
  type AVPixelFormat,
  AVSEEK_FLAG_BACKWARD,
} from 'node-av/constants';
import { avGetPixFmtName, Codec, CodecContext, FormatContext, Frame, Packet, type Stream } from 'node-av/lib';
import { MediaError } from '../plain';
import { must } from './av';

/** Frames a reader decodes on towards its goal rather than seeking again. */
const NEAR: Frames = 32;

/** How the clip is laid out, as far as reading pictures needs to know. */
export type Readable = Pick<Original, 'path' | 'kind' | 'frames' | 'clock' | 'files' | 'gaps' | 'pieces'>;

/** Gives decoded pictures of a clip by number. Not for use by two callers at once. */
export interface PictureReader {
  /**
   * Calls `use` with each frame from `first` up to `end` (exclusive) that exists, in order. The
   * frame belongs to the reader and is gone after the call. Return false from `use` to stop. With a `step` only frames
   * whose number is a multiple of it are given; others are not even decoded where each frame stands by itself.
   */
  read(first: Frames, end: Frames, use: (frame: Frame, number: Frames) => boolean | undefined, step?: Frames): void;
  close(): void;
}

/**
 * `exact`: as the codec's standard says. `small`: pictures that no other picture is built on are not
 * smoothed at their block edges, which cannot be seen a tenth as large and saves a quarter of the time.
 */
export type Fidelity = 'exact' | 'small';

/** Opens a clip for reading pictures: read-only, whatever its kind. Throws MediaError when it cannot be. */
export function openPictures(clip: Readable, threads = 2, fidelity: Fidelity = 'exact'): PictureReader {
  if (clip.pieces.length > 0) return openPieces(clip, threads, fidelity);
  if (clip.kind === 'movie') return openMovie(clip.path, clip.clock, threads, fidelity);
  return openNumbered(clip, threads);
}

/** Pixel formats with alpha, by FFmpeg's names. */
const ALPHA = /^(rgba|bgra|argb|abgr|yuva|gbrap|ya\d|ayuv|vuya|pal8)/;
/** Whether a picture has an alpha of its own, whatever is in it. */
export const hasAlpha = ({ format }: Frame): boolean => ALPHA.test(avGetPixFmtName(format as AVPixelFormat) ?? '');

/**
 * Reads the frames from `first` up to `end` as something that is written keeps them: where numbered frames are
 * missing the picture before them is given again, so that all others stay in their places.
 */
export function readHeld(
  clip: Readable,
  reader: PictureReader,
  first: Frames,
  end: Frames,
  use: (frame: Frame, number: Frames) => boolean | undefined,
): void {
  if (clip.gaps.length === 0) {
    reader.read(first, end, use);
    return;
  }
  let goOn: boolean | undefined;
  for (let n = first; n < end && goOn !== false; n++) {
    const there = heldFrame(clip, n);
    reader.read(there, there + 1, (frame) => {
      goOn = use(frame, n);
      return goOn;
    });
  }
}

/** A take over several files is read as one, each file opened when its frames are asked for; one is open at a time. */
function openPieces(clip: Readable, threads: number, fidelity: Fidelity): PictureReader {
  let opened: { path: string; reader: PictureReader } | null = null;
  const readerOf = (path: string): PictureReader => {
    if (opened?.path === path) return opened.reader;
    opened?.reader.close();
    opened = null;
    const reader = openMovie(path, clip.clock, threads, fidelity);
    opened = { path, reader };
    return reader;
  };
  return {
    read(first, end, use, step = 1) {
      let before: Frames = 0;
      for (const { path, frames } of clip.pieces) {
        const start = before;
        before += frames;
        if (before <= first || start >= end) continue;
        let goOn: boolean | undefined;
        readerOf(path).read(Math.max(0, first - start), Math.min(frames, end - start), (frame, n) => {
          goOn = (start + n) % step === 0 ? use(frame, start + n) : undefined;
          return goOn;
        });
        if (goOn === false) return;
      }
    },
    close: () => opened?.reader.close(),
  };
}

/** Each numbered frame is a file of its own; those that are missing are left out. */
function openNumbered(clip: Readable, threads: number): PictureReader {
  const folder = path.dirname(clip.path);
  return {
    read(first, end, use, step = 1) {
      for (let n = Math.ceil(Math.max(0, first) / step) * step; n < Math.min(end, clip.frames); n += step) {
        const name = clip.files.length === 0 ? path.basename(clip.path) : fileOfFrame(clip, n);
        if (name === null) continue;
        const one = openMovie(path.join(folder, name), clip.clock, threads, 'exact');
        let goOn: boolean | undefined;
        try {
          one.read(0, 1, (frame) => {
            goOn = use(frame, n);
            return false;
          });
        } finally {
          one.close();
        }
        if (goOn === false) return;
      }
    },
    close() {},
  };
}

/**
 * What originals and references come in, as FFmpeg names its readers: containers, and single pictures. It has
 * readers of raw formats besides that take noise for pictures.
 */
const KNOWN = /^(mov|mxf|avi|matroska|mpegts|mpeg|mpegvideo|asf|flv|ogg|dv|gxf|image2|mjpeg)\b|_pipe$/;

/** An opened file with its first video stream; the caller frees it. */
export interface OpenFile {
  readonly format: FormatContext;
  readonly stream: Stream;
}

/** Opens a file read-only and finds its picture stream. Throws MediaError when there is none. */
export function openFile(file: string): OpenFile {
  const format = new FormatContext();
  try {
    must(format.openInputSync(file, null, null), `Cannot open ${path.basename(file)}`);
    if (!KNOWN.test(format.iformat?.name ?? ''))
      throw new MediaError(`Cannot open ${path.basename(file)}: it holds no picture or movie of a known kind`);
    must(format.findStreamInfoSync(null), `Cannot read ${path.basename(file)}`);
    const index = format.findBestStream(AVMEDIA_TYPE_VIDEO);
    const stream = index >= 0 ? format.streams[index] : undefined;
    if (!stream || stream.codecpar.width <= 0 || stream.codecpar.height <= 0)
      throw new MediaError(`${path.basename(file)} has no picture that can be read`);
    return { format, stream };
  } catch (error) {
    format.closeInputSync();
    if (statSync(file, { throwIfNoEntry: false })?.size === 0)
      throw new MediaError(`${path.basename(file)} is empty (0 bytes). Copy it again from the card.`);
    throw error;
  }
}

function openMovie(file: string, rate: Rate, threads: number, fidelity: Fidelity): PictureReader {
  const { format, stream } = openFile(file);
  const name = path.basename(file);
  const codec = Codec.findDecoder(stream.codecpar.codecId);
  if (!codec) {
    format.closeInputSync();
    throw new MediaError(`No decoder for the picture of ${name}`);
  }
  const decoder = new CodecContext();
  decoder.allocContext3(codec);
  must(decoder.parametersToContext(stream.codecpar), `Cannot set up the decoder for ${name}`);
  decoder.threadCount = threads;
  decoder.pktTimebase = stream.timeBase;
  if (fidelity === 'small') decoder.setOption('skip_loop_filter', 'nonref');
  must(decoder.open2Sync(codec, null), `Cannot start the decoder for ${name}`);

  const packet = new Packet();
  packet.alloc();
  const frame = new Frame();
  frame.alloc();
  const ticksPerFrame = (stream.timeBase.den * rate.den) / (stream.timeBase.num * rate.num);
  const firstTick = stream.startTime === AV_NOPTS_VALUE ? 0n : stream.startTime;
  const tickOf = (n: Frames) => firstTick + BigInt(Math.round(n * ticksPerFrame));
  const numberOf = (tick: bigint) => Math.round(Number(tick - firstTick) / ticksPerFrame);
  const standAlone = stream.codecpar.hasProperties(AV_CODEC_PROP_INTRA_ONLY);
  let next: Frames = 0;
  let ended = false;
  let wanted: Frames = 1;

  const seek = (n: Frames) => {
    const target = n <= 0 ? firstTick : tickOf(n);
    must(format.seekFrameSync(stream.index, target, AVSEEK_FLAG_BACKWARD), `Cannot find frame ${n} of ${name}`);
    decoder.flushBuffers();
    ended = false;
  };

  /** Decodes one frame into `frame`; its number, or null at the end of the file. */
  const decode = (): Frames | null => {
    for (;;) {
      const got = decoder.receiveFrameSync(frame);
      if (got >= 0) {
        const tick = frame.bestEffortTimestamp;
        return tick === AV_NOPTS_VALUE ? next : numberOf(tick);
      }
      if (got === AVERROR_EOF) return null;
      if (got !== AVERROR_EAGAIN) must(got, `Cannot decode ${name}`);
      if (ended) return null;
      feed();
    }
  };

  const isWanted = (tick: bigint) => wanted === 1 || !standAlone || tick === AV_NOPTS_VALUE || numberOf(tick) % wanted === 0;

  const feed = () => {
    const read = format.readFrameSync(packet);
    if (read < 0) {
      ended = true;
      decoder.sendPacketSync(null);
      return;
    }
    // A damaged packet is passed over; the frames after it are still read.
    if (packet.streamIndex === stream.index && isWanted(packet.pts)) decoder.sendPacketSync(packet);
    packet.unref();
  };

  /** Brings the decoder to frame `first`, going back further where a seek lands behind it. */
  const goTo = (first: Frames): Frames | null => {
    if (first >= next && first - next <= NEAR && !ended) return forward(first);
    for (const back of [0, 48, 480]) {
      seek(Math.max(0, first - back));
      const number = forward(first);
      if (number === null || number <= first || first - back <= 0) return number;
    }
    seek(0);
    return forward(first);
  };

  const forward = (first: Frames): Frames | null => {
    for (;;) {
      const number = decode();
      if (number === null) return null;
      next = number + 1;
      if (number >= first) return number;
    }
  };

  return {
    read(first, end, use, step = 1) {
      wanted = step;
      let number = goTo(Math.max(0, first));
      while (number !== null && number < end) {
        if (number % step === 0 && use(frame, number) === false) return;
        if (number + 1 >= end) return;
        number = decode();
        if (number !== null) next = number + 1;
      }
    },
    close() {
      frame.free();
      packet.free();
      decoder.freeContext();
      format.closeInputSync();
    },
  };
}
