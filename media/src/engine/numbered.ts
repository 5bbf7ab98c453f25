import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { type Frames, formatTimecode, frameName, inDay, type Raster, type Rate } from '@gemello/core';
import {
  AV_OPT_SEARCH_CHILDREN,
  AV_OPT_TYPE_STRING,
  AV_PIX_FMT_GBRP10BE,
  AV_PIX_FMT_GBRPF32LE,
  AV_PIX_FMT_RGB48LE,
  AVERROR_EAGAIN,
  AVERROR_EOF,
  type AVPixelFormat,
  type FFEncoderCodec,
  SWS_ACCURATE_RND,
  SWS_BICUBIC,
} from 'node-av/constants';
import { Codec, CodecContext, type Frame, Packet, Rational } from 'node-av/lib';
import { type FrameSays, sayInDpx, sayInExr } from '../headers/write-frames';
import { must } from './av';
import { makePixelFrame } from './pixels';
import { makeScaler } from './scaler';
import type { MovieWriter } from './writer';

/** Kinds of picture that a clip may be written as, frame by frame: all red, green and blue in full range, as bright as they are in the movie. */
const FRAME_KINDS = {
  dpx: { encoder: 'dpx', pixels: AV_PIX_FMT_GBRP10BE, options: {}, say: sayInDpx },
  exr: { encoder: 'exr', pixels: AV_PIX_FMT_GBRPF32LE, options: { format: 'half', compression: 'zip16' }, say: sayInExr },
  tiff: { encoder: 'tiff', pixels: AV_PIX_FMT_RGB48LE, options: { compression_algo: 'raw' }, say: (file: Buffer) => file },
} as const satisfies Record<string, FrameKind>;
export type FrameKindName = keyof typeof FRAME_KINDS;

interface FrameKind {
  readonly encoder: string;
  readonly pixels: AVPixelFormat;
  readonly options: Readonly<Record<string, string>>;
  /** Puts what the encoder does not say into the header of a picture. */
  readonly say: (file: Buffer, says: FrameSays) => Buffer;
}

/** What a run of numbered frames is to be. */
export interface NumberedSettings {
  readonly kind: FrameKindName;
  readonly clip: string;
  readonly extension: string;
  readonly raster: Raster;
  readonly rate: Rate;
  /** Timecode of the first frame, as frames since midnight: each file is numbered by its own. */
  readonly start: Frames;
  readonly reel: string;
}

/** Opens a folder, which is made, for pictures that are written one after the other, each as a file of its own. Throws MediaError where it cannot be. */
export function openNumberedWriter(folder: string, { kind, clip, extension, raster, rate, start, reel }: NumberedSettings): MovieWriter {
  const { encoder: name, pixels, options, say }: FrameKind = FRAME_KINDS[kind];
  const { width, height } = raster;
  mkdirSync(folder, { recursive: true });
  const codec = Codec.findEncoderByName(name as FFEncoderCodec);
  if (!codec) throw new Error(`The media engine lacks the encoder ${name}`);
  const encoder = new CodecContext();
  encoder.allocContext3(codec);
  encoder.width = width;
  encoder.height = height;
  encoder.pixelFormat = pixels;
  encoder.timeBase = new Rational(rate.den, rate.num);
  encoder.threadCount = 1;
  for (const [option, value] of Object.entries(options))
    must(encoder.setOption(option, value, AV_OPT_TYPE_STRING, AV_OPT_SEARCH_CHILDREN), `Cannot set ${option} of ${name}`);
  must(encoder.open2Sync(codec, null), `Cannot start the encoder for ${folder}`);
  const scaler = makeScaler(width, height, pixels, 'full', SWS_BICUBIC | SWS_ACCURATE_RND);
  const filled = makePixelFrame(raster);
  const packet = new Packet();
  packet.alloc();
  let [sent, written] = [0n, 0];

  const drain = () => {
    for (;;) {
      const got = encoder.receivePacketSync(packet);
      if (got === AVERROR_EAGAIN || got === AVERROR_EOF) return;
      must(got, `Cannot encode a picture of ${clip}`);
      const fileName = frameName(clip, start + written, extension);
      const timecode = formatTimecode(inDay(start + written, rate), rate);
      const says = { timecode, rate, reel, clip, fileName, position: written };
      writeFileSync(path.join(folder, fileName), say(Buffer.from(packet.data ?? []), says));
      packet.unref();
      written++;
    }
  };
  const writeFrame = (source: Frame) => {
    const own = scaler.convertToOwn(source);
    own.pts = sent++;
    must(encoder.sendFrameSync(own), `Cannot encode a picture of ${clip}`);
    own.free();
    drain();
  };
  return {
    writeFrame,
    writePixels: (bytes, format) => writeFrame(filled.of(bytes, format)),
    close() {
      must(encoder.sendFrameSync(null), `Cannot encode a picture of ${clip}`);
      drain();
      packet.free();
      filled.free();
      scaler.free();
      encoder.freeContext();
    },
  };
}
