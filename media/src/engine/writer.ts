import { KEY_EVERY, type Raster, type Rate } from '@gemello/core';
import {
  AV_CODEC_FLAG_GLOBAL_HEADER,
  AV_OPT_SEARCH_CHILDREN,
  AV_OPT_TYPE_STRING,
  AV_PIX_FMT_YUV420P,
  AV_PIX_FMT_YUV422P,
  AV_PIX_FMT_YUV422P10LE,
  AV_PIX_FMT_YUVA444P10LE,
  AVCOL_PRI_BT709,
  AVCOL_RANGE_MPEG,
  AVCOL_SPC_BT709,
  AVCOL_TRC_BT709,
  AVERROR_EAGAIN,
  AVERROR_EOF,
  type AVPixelFormat,
  type FFEncoderCodec,
  SWS_ACCURATE_RND,
  SWS_BICUBIC,
} from 'node-av/constants';
import { Codec, CodecContext, Dictionary, FormatContext, type Frame, Packet, Rational } from 'node-av/lib';
import { must } from './av';
import { makePixelFrame } from './pixels';
import { makeScaler } from './scaler';
import { openSoundTracks, type SoundSource } from './sound';

interface Preset {
  readonly encoder: string;
  readonly pixels: AVPixelFormat;
  readonly options: Readonly<Record<string, string>>;
  readonly keyEvery?: number;
  /** How the container calls the codec, where its usual name will not do. */
  readonly tag?: string;
}

/** What Gemello writes. `intra` is the return's codec: every frame stands alone, 10 bits, 4:2:2. */
export const WRITERS = {
  intra: { encoder: 'prores', pixels: AV_PIX_FMT_YUV422P10LE, options: { profile: '3' } },
  /** With an alpha, and its colours whole. */
  'intra-alpha': { encoder: 'prores', pixels: AV_PIX_FMT_YUVA444P10LE, options: { profile: '4' } },
  'intra-light': { encoder: 'prores', pixels: AV_PIX_FMT_YUV422P10LE, options: { profile: '1' } },
  'intra-vc3': { encoder: 'dnxhd', pixels: AV_PIX_FMT_YUV422P10LE, options: { profile: 'dnxhr_hqx' } },
  'intra-8bit': { encoder: 'dnxhd', pixels: AV_PIX_FMT_YUV422P, options: { profile: 'dnxhr_sq' } },
  'intra-mpeg': { encoder: 'mpeg2video', pixels: AV_PIX_FMT_YUV422P, options: { intra_vlc: '1', b: '30000000' }, keyEvery: 1 },
  'long-gop': { encoder: 'libx264', pixels: AV_PIX_FMT_YUV420P, options: { preset: 'ultrafast', crf: '20', bf: '2' }, keyEvery: 48 },
  'proxy-10bit': { encoder: 'prores', pixels: AV_PIX_FMT_YUV422P10LE, options: { profile: '0' } },
  'proxy-8bit': { encoder: 'dnxhd', pixels: AV_PIX_FMT_YUV422P, options: { profile: 'dnxhr_lb' } },
  'proxy-small': { encoder: 'libx264', pixels: AV_PIX_FMT_YUV420P, options: { preset: 'veryfast', crf: '24', bf: '2' }, keyEvery: 12 },
  'light-hevc': {
    encoder: 'libx265',
    pixels: AV_PIX_FMT_YUV420P,
    options: { preset: 'fast', crf: '26', 'x265-params': 'log-level=error' },
    keyEvery: 12,
    // As players of QuickTime files ask for it.
    tag: 'hvc1',
  },
  // Nothing refers to what comes later, so that pictures come out of a decoder in the order in which they go in.
  viewing: {
    encoder: 'libx264',
    pixels: AV_PIX_FMT_YUV420P,
    options: { preset: 'veryfast', crf: '19', bf: '0', 'x264-params': 'scenecut=0' },
    keyEvery: KEY_EVERY,
  },
  'long-gop-small': { encoder: 'libx264', pixels: AV_PIX_FMT_YUV420P, options: { preset: 'ultrafast', crf: '30', bf: '2' }, keyEvery: 72 },
} as const satisfies Record<string, Preset>;
export type WriterName = keyof typeof WRITERS;

/** What a movie file is to be. `timecode` is a label such as `01:00:00:00`. */
export interface MovieSettings {
  readonly writer: WriterName;
  readonly raster: Raster;
  readonly rate: Rate;
  readonly timecode: string | null;
  readonly reel: string | null;
  readonly threads?: number;
  /** Files whose sound goes along. */
  readonly sound?: readonly SoundSource[];
}

/** Writes pictures, one after the other, to a movie file. */
export interface MovieWriter {
  /** Takes a decoded picture of any raster and pixel format. */
  writeFrame(frame: Frame): void;
  /** Takes packed pixels at the movie's raster. */
  writePixels(pixels: Uint8Array, format: AVPixelFormat): void;
  /** Ends the file. Nothing may be written afterwards. */
  close(): void;
}

/** Opens a file for writing; the container follows the extension. Throws MediaError when it cannot be. */
export function openMovieWriter(file: string, settings: MovieSettings): MovieWriter {
  const preset: Preset = WRITERS[settings.writer];
  const { width, height } = settings.raster;
  const format = new FormatContext();
  must(format.allocOutputContext2(null, null, file), `Cannot write ${file}`);
  const codec = Codec.findEncoderByName(preset.encoder as FFEncoderCodec);
  if (!codec) throw new Error(`The media engine lacks the encoder ${preset.encoder}`);
  const encoder = new CodecContext();
  encoder.allocContext3(codec);
  encoder.width = width;
  encoder.height = height;
  encoder.pixelFormat = preset.pixels;
  encoder.timeBase = new Rational(settings.rate.den, settings.rate.num);
  encoder.framerate = new Rational(settings.rate.num, settings.rate.den);
  encoder.colorSpace = AVCOL_SPC_BT709;
  encoder.colorPrimaries = AVCOL_PRI_BT709;
  encoder.colorTrc = AVCOL_TRC_BT709;
  encoder.colorRange = AVCOL_RANGE_MPEG;
  encoder.threadCount = settings.threads ?? 1;
  if (preset.keyEvery) encoder.gopSize = preset.keyEvery;
  encoder.flags = (encoder.flags | AV_CODEC_FLAG_GLOBAL_HEADER) as typeof encoder.flags;
  for (const [name, value] of Object.entries(preset.options))
    must(encoder.setOption(name, value, AV_OPT_TYPE_STRING, AV_OPT_SEARCH_CHILDREN), `Cannot set ${name} of ${preset.encoder}`);
  must(encoder.open2Sync(codec, null), `Cannot start the encoder for ${file}`);

  const stream = format.newStream(codec);
  must(stream.codecpar.fromContext(encoder), `Cannot describe the picture of ${file}`);
  if (preset.tag) stream.codecpar.codecTag = preset.tag;
  stream.timeBase = encoder.timeBase;
  stream.avgFrameRate = encoder.framerate;
  const tags: Record<string, string> = {};
  if (settings.timecode) tags.timecode = settings.timecode;
  if (settings.reel) tags.reel_name = settings.reel;
  // The stream copies what it is given. (The encoder would free its own: options are set one by one above.)
  stream.metadata = Dictionary.fromObject(tags);
  // QuickTime takes the reel from the stream, MXF from the file.
  if (settings.reel) format.metadata = Dictionary.fromObject({ reel_name: settings.reel });
  const sound = openSoundTracks(settings.sound ?? [], format);
  must(format.openOutputSync(), `Cannot create ${file}`);
  must(format.writeHeaderSync(null), `Cannot write to ${file}`);

  const scaler = makeScaler(width, height, preset.pixels, 'video', SWS_BICUBIC | SWS_ACCURATE_RND, settings.threads ?? 1);
  const pixels = makePixelFrame(settings.raster);
  const packet = new Packet();
  packet.alloc();
  let count = 0n;

  const drain = () => {
    for (;;) {
      const got = encoder.receivePacketSync(packet);
      if (got === AVERROR_EAGAIN || got === AVERROR_EOF) return;
      must(got, `Cannot encode ${file}`);
      packet.streamIndex = stream.index;
      packet.rescaleTs(encoder.timeBase, stream.timeBase);
      must(format.interleavedWriteFrameSync(packet), `Cannot write to ${file}`);
    }
  };
  const send = (frame: Frame | null) => {
    must(encoder.sendFrameSync(frame), `Cannot encode ${file}`);
    drain();
  };
  const writeFrame = (source: Frame) => {
    // The encoder may hold on to a picture for a while, so that each needs a frame of its own.
    const own = scaler.convertToOwn(source);
    own.pts = count++;
    send(own);
    own.free();
    // Sound is written beside its pictures, so that neither waits long for the other.
    sound.upTo((Number(count) * settings.rate.den) / settings.rate.num);
  };
  return {
    writeFrame,
    writePixels: (bytes, of) => writeFrame(pixels.of(bytes, of)),
    close() {
      send(null);
      sound.end();
      must(format.writeTrailerSync(), `Cannot finish ${file}`);
      format.closeOutputSync();
      sound.close();
      packet.free();
      pixels.free();
      scaler.free();
      encoder.freeContext();
      format.freeContext();
    },
  };
}
