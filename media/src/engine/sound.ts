import path from 'node:path';
import {
  AV_CHANNEL_LAYOUT_MONO,
  AV_CHANNEL_LAYOUT_STEREO,
  AV_CHANNEL_ORDER_NATIVE,
  AV_CODEC_FLAG_GLOBAL_HEADER,
  AV_NOPTS_VALUE,
  AV_SAMPLE_FMT_FLTP,
  AV_SAMPLE_FMT_S16,
  AV_SAMPLE_FMT_S32,
  AVERROR_EAGAIN,
  AVMEDIA_TYPE_AUDIO,
  AVMEDIA_TYPE_VIDEO,
  AVSEEK_FLAG_BACKWARD,
  FF_ENCODER_AAC,
  FF_ENCODER_PCM_S16LE,
  FF_ENCODER_PCM_S24LE,
} from 'node-av/constants';
import {
  AudioFifo,
  avGetCodecName,
  type ChannelLayout,
  Codec,
  CodecContext,
  FormatContext,
  Frame,
  Packet,
  Rational,
  SoftwareResampleContext,
  type Stream,
} from 'node-av/lib';
import { MediaError } from '../plain';
import { must } from './av';

/**
 * A file whose sound goes along with pictures: its own pictures begin at `from` and end at `to`, in seconds of the new movie. Where they began
 * before it, what was heard until then is left out, to the sample.
 */
export interface SoundSource {
  readonly path: string;
  readonly from: number;
  readonly to: number;
}

/** Sound on its way into a movie that is being written. */
export interface SoundTracks {
  /** Writes what is heard up to a moment, in seconds of the new movie. */
  upTo(seconds: number): void;
  /** Writes what is still on its way; to be called before the movie is finished. */
  end(): void;
  close(): void;
}

/** Codecs that QuickTime and MP4 hold as they are; other sound is decoded and coded anew. */
const HELD = {
  mov: /^(pcm_(s16|s24|s32|f32|f64)(le|be)|aac|mp3|ac3|eac3|alac)$/,
  mp4: /^(aac|mp3|ac3|eac3|alac)$/,
} as const;

interface Track {
  readonly from: Stream;
  readonly to: Stream;
  /** Codes it anew; null where packets are taken over as they are. */
  readonly anew: Recoder | null;
}

/**
 * Gives a movie the sound of the files it is made from, track by track and in step with their first
 * pictures. To be opened before the movie's header is written. Files after the first must hold the
 * same tracks. Throws MediaError where they do not, or sound cannot be decoded.
 */
export function openSoundTracks(sources: readonly SoundSource[], movie: FormatContext): SoundTracks {
  const made: Stream[] = [];
  const open = (index: number) => {
    const source = sources[index];
    return source ? openSource(source, movie, made, index === 0) : null;
  };
  let at = 0;
  let current = open(0);
  return {
    upTo(seconds) {
      while (current) {
        current.upTo(seconds);
        const { to } = sources[at] as SoundSource;
        if (seconds < to) return;
        current.end();
        current.close();
        at++;
        current = open(at);
      }
    },
    end: () => current?.end(),
    close: () => current?.close(),
  };
}

/** `made`: the movie's tracks of sound, which the first file makes and the others go on with. */
function openSource(source: SoundSource, movie: FormatContext, made: Stream[], first: boolean): SoundTracks {
  const name = path.basename(source.path);
  const input = new FormatContext();
  must(input.openInputSync(source.path, null, null), `Cannot open ${name}`);
  must(input.findStreamInfoSync(null), `Cannot read ${name}`);
  const cut = source.from < 0;
  const picture = input.streams[input.findBestStream(AVMEDIA_TYPE_VIDEO)];
  const sounds = input.streams.filter((s) => s.codecpar.codecType === AVMEDIA_TYPE_AUDIO && s.codecpar.sampleRate > 0);
  if (!first && sounds.length !== made.length) {
    input.closeInputSync();
    throw new MediaError(`${name} has ${sounds.length} tracks of sound where the file before it has ${made.length}.`);
  }
  const tracks = new Map(
    sounds.map((from, i): [number, Track] => {
      const container = movie.oformat?.name === 'mp4' ? 'mp4' : movie.oformat?.name === 'mxf' ? 'mxf' : 'mov';
      const held = !cut && container !== 'mxf' && HELD[container].test(avGetCodecName(from.codecpar.codecId) ?? '');
      const into = container === 'mp4' ? 'aac' : cut ? 'pcm24' : 'pcm';
      const anew = held
        ? null
        : makeRecoder(from, { into, name, rate: container === 'mxf' ? MXF_RATE : null, end: cut ? source.to : null });
      const to = first ? movie.newStream(null) : (made[i] as Stream);
      if (first) {
        made.push(to);
        must(anew ? anew.describe(to) : from.codecpar.copy(to.codecpar), `Cannot describe the sound of ${name}`);
        // The number a container gives a codec is its own; the new one chooses anew.
        to.codecpar.codecTag = 0;
        to.timeBase = new Rational(1, anew?.rate ?? from.codecpar.sampleRate);
      }
      return [from.index, { from, to, anew }];
    }),
  );
  // The source's time 0 of picture is `from` in the movie.
  const shift = source.from - startOf(picture);
  // Some are half a second long; what is too early is left out.
  if (cut) input.seekFrameSync(-1, BigInt(Math.max(0, Math.floor((-shift - 1) * 1e6))), AVSEEK_FLAG_BACKWARD);
  const packet = new Packet();
  packet.alloc();
  let waiting = false;
  let ended = tracks.size === 0;

  const secondsOf = (p: Packet, { from }: Track) => (Number(p.pts) * from.timeBase.num) / from.timeBase.den + shift;
  const put = (p: Packet, { to }: Track) => {
    p.streamIndex = to.index;
    must(movie.interleavedWriteFrameSync(p), `Cannot write the sound of ${name}; is the disk full?`);
  };
  const putAnew = (p: Packet, track: Track) => {
    p.rescaleTs(new Rational(1, track.anew?.rate ?? track.from.codecpar.sampleRate), track.to.timeBase);
    put(p, track);
  };
  const take = (track: Track, seconds: number) => {
    if (seconds >= source.to) return;
    const { from, to, anew } = track;
    if (anew) return anew.feed(packet, seconds, (made) => putAnew(made, track));
    const ticks = BigInt(Math.round((shift * to.timeBase.den) / to.timeBase.num));
    packet.rescaleTs(from.timeBase, to.timeBase);
    packet.pts += ticks;
    packet.dts += ticks;
    put(packet, track);
  };
  return {
    upTo(seconds) {
      while (!ended) {
        if (!waiting) {
          const got = input.readFrameSync(packet);
          if (got === AVERROR_EAGAIN) continue;
          if (got < 0) {
            ended = true;
            return;
          }
        }
        waiting = false;
        const track = tracks.get(packet.streamIndex);
        if (track && packet.pts !== AV_NOPTS_VALUE) {
          const at = secondsOf(packet, track);
          if (at > seconds) {
            waiting = true;
            return;
          }
          take(track, at);
        }
        packet.unref();
      }
    },
    end() {
      for (const track of tracks.values()) track.anew?.end((made) => putAnew(made, track));
    },
    close() {
      for (const { anew } of tracks.values()) anew?.close();
      packet.free();
      input.closeInputSync();
    },
  };
}

/** What MXF holds (SMPTE ST 382: 48 kHz; others are rare), samples a second. */
const MXF_RATE = 48_000;

/** What sound is made into where it is not taken over as it is: PCM in QuickTime and MXF, AAC in MP4, which holds no PCM that all can read. */
const MADE = {
  pcm: { encoder: FF_ENCODER_PCM_S16LE, format: AV_SAMPLE_FMT_S16, bitRate: null },
  pcm24: { encoder: FF_ENCODER_PCM_S24LE, format: AV_SAMPLE_FMT_S32, bitRate: null },
  aac: { encoder: FF_ENCODER_AAC, format: AV_SAMPLE_FMT_FLTP, bitRate: 256_000n },
} as const;

/** Decodes a track of sound and codes it anew. */
interface Recoder {
  /** Samples a second of what it makes. */
  readonly rate: number;
  describe(to: Stream): number;
  /** `seconds`: where the packet is heard in the new movie; before 0 it is left out. What cannot be decoded is left silent. */
  feed(packet: Packet, seconds: number, use: (made: Packet) => void): void;
  /** Gives out what it still holds. */
  end(use: (made: Packet) => void): void;
  close(): void;
}

/** Opens the decoder of a track of sound. Throws MediaError where there is none for it. */
export function soundDecoder({ codecpar, timeBase }: Stream, name: string): CodecContext {
  const codec = Codec.findDecoder(codecpar.codecId);
  if (!codec) throw new MediaError(`No decoder for the sound of ${name}`);
  const decoder = new CodecContext();
  decoder.allocContext3(codec);
  must(decoder.parametersToContext(codecpar), `Cannot set up the decoder for the sound of ${name}`);
  decoder.pktTimebase = timeBase;
  must(decoder.open2Sync(codec, null), `Cannot start the decoder for the sound of ${name}`);
  return decoder;
}

/** When a track begins, in seconds; 0 where it does not say. */
export const startOf = (s: Stream | undefined): number =>
  !s || s.startTime === AV_NOPTS_VALUE ? 0 : (Number(s.startTime) * s.timeBase.num) / s.timeBase.den;

/** A layout by its name: files may say no more than how many channels there are. */
export function namedLayout(layout: ChannelLayout): ChannelLayout {
  if (layout.order === AV_CHANNEL_ORDER_NATIVE) return layout;
  if (layout.nbChannels === 1) return AV_CHANNEL_LAYOUT_MONO;
  return layout.nbChannels === 2 ? AV_CHANNEL_LAYOUT_STEREO : layout;
}

/** `rate`: samples a second, null for those of the source. `end`: where the new movie ends, in seconds; null where all is taken. */
interface RecoderSettings {
  readonly into: keyof typeof MADE;
  readonly name: string;
  readonly rate: number | null;
  readonly end: number | null;
}

/** Samples that are written at once where no codec asks for more. */
const PIECE = 1024;

function makeRecoder(stream: Stream, { into, name, rate: fixed, end }: RecoderSettings): Recoder {
  const { encoder: wanted, format, bitRate } = MADE[into];
  const writer = Codec.findEncoderByName(wanted);
  if (!writer) throw new MediaError(`No encoder for the sound of ${name}`);
  const { sampleRate: given, channelLayout } = stream.codecpar;
  const sampleRate = fixed ?? given;
  const decoder = soundDecoder(stream, name);
  const encoder = new CodecContext();
  encoder.allocContext3(writer);
  const laid = namedLayout(channelLayout);
  encoder.sampleFormat = format;
  encoder.sampleRate = sampleRate;
  encoder.channelLayout = laid;
  encoder.timeBase = new Rational(1, sampleRate);
  if (bitRate !== null) {
    encoder.bitRate = bitRate;
    encoder.flags = (encoder.flags | AV_CODEC_FLAG_GLOBAL_HEADER) as typeof encoder.flags;
  }
  must(encoder.open2Sync(writer, null), `Cannot write the sound of ${name}`);
  const resampler = new SoftwareResampleContext();
  must(resampler.allocSetOpts2(laid, format, sampleRate, laid, decoder.sampleFormat, given), `Cannot convert the sound of ${name}`);
  must(resampler.init(), `Cannot convert the sound of ${name}`);
  const frame = new Frame();
  frame.alloc();
  const made = new Packet();
  made.alloc();
  // AAC takes so many samples at once, no more and no fewer; what is cut to the sample is gathered too.
  const piece = encoder.frameSize > 0 ? encoder.frameSize : end === null ? 0 : PIECE;
  const fifo = piece > 0 ? new AudioFifo() : null;
  fifo?.alloc(format, channelLayout.nbChannels, piece * 8);
  const last = end === null ? null : BigInt(Math.round(end * sampleRate));
  let next: bigint | null = null;
  /** Samples that are still to be left out. */
  let early = 0;

  const plain = (): Frame => {
    const one = new Frame();
    one.alloc();
    one.format = format;
    one.sampleRate = sampleRate;
    one.channelLayout = laid;
    return one;
  };
  const code = (one: Frame, use: (made: Packet) => void) => {
    one.pts = next ?? 0n;
    const left = last === null ? one.nbSamples : Number(last - one.pts);
    if (left <= 0) return one.free();
    if (left < one.nbSamples) one.nbSamples = left;
    next = one.pts + BigInt(one.nbSamples);
    must(encoder.sendFrameSync(one), `Cannot write the sound of ${name}`);
    one.free();
    while (encoder.receivePacketSync(made) >= 0) use(made);
  };
  /** Codes what has gathered, in pieces of the size that is asked for; at the end what is left as well. */
  const fromFifo = (least: number, use: (made: Packet) => void) => {
    while (fifo && fifo.size >= least && fifo.size > 0) {
      const one = plain();
      one.nbSamples = Math.min(fifo.size, piece);
      must(one.getBuffer(0), `Cannot convert the sound of ${name}`);
      must(fifo.readSync(one.data ?? [], one.nbSamples), `Cannot convert the sound of ${name}`);
      code(one, use);
    }
  };
  return {
    rate: sampleRate,
    describe: (to) => to.codecpar.fromContext(encoder),
    feed(packet, seconds, use) {
      if (next === null) {
        const first = Math.round(seconds * sampleRate);
        early = fifo ? Math.max(0, -first) : 0;
        next = BigInt(fifo ? Math.max(0, first) : first);
      }
      if (decoder.sendPacketSync(packet) < 0) return;
      while (decoder.receiveFrameSync(frame) >= 0) {
        const one = plain();
        frame.channelLayout = laid;
        must(resampler.convertFrame(one, frame), `Cannot convert the sound of ${name}`);
        if (!fifo) {
          code(one, use);
          continue;
        }
        must(fifo.writeSync(one.data ?? [], one.nbSamples), `Cannot convert the sound of ${name}`);
        one.free();
        const out = Math.min(early, fifo.size);
        if (out > 0) fifo.drain(out);
        early -= out;
        fromFifo(piece, use);
      }
    },
    end(use) {
      fromFifo(1, use);
      encoder.sendFrameSync(null);
      while (encoder.receivePacketSync(made) >= 0) use(made);
    },
    close() {
      made.free();
      frame.free();
      fifo?.free();
      resampler.free();
      encoder.freeContext();
      decoder.freeContext();
    },
  };
}
