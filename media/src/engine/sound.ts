import path from 'node:path';
import {
  AV_NOPTS_VALUE,
  AV_SAMPLE_FMT_S16,
  AVERROR_EAGAIN,
  AVMEDIA_TYPE_AUDIO,
  AVMEDIA_TYPE_VIDEO,
  FF_ENCODER_PCM_S16LE,
} from 'node-av/constants';
import {
  avGetCodecName,
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

/** A file whose sound goes along with pictures: its own pictures begin at `from` and end at `to`, in seconds of the new movie. */
export interface SoundSource {
  readonly path: string;
  readonly from: number;
  readonly to: number;
}

/** Sound on its way into a movie that is being written. */
export interface SoundTracks {
  /** Writes what is heard up to a moment, in seconds of the new movie. */
  upTo(seconds: number): void;
  close(): void;
}

/** Codecs that QuickTime holds as they are; other sound is decoded and kept as 16-bit PCM. */
const HELD = /^(pcm_(s16|s24|s32|f32|f64)(le|be)|aac|mp3|ac3|eac3|alac)$/;

interface Track {
  readonly from: Stream;
  readonly to: Stream;
  /** Turns packets into PCM; null where they are taken over as they are. */
  readonly pcm: PcmMaker | null;
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
        current.close();
        at++;
        current = open(at);
      }
    },
    close: () => current?.close(),
  };
}

/** `made`: the movie's tracks of sound, which the first file makes and the others go on with. */
function openSource(source: SoundSource, movie: FormatContext, made: Stream[], first: boolean): SoundTracks {
  const name = path.basename(source.path);
  const input = new FormatContext();
  must(input.openInputSync(source.path, null, null), `Cannot open ${name}`);
  must(input.findStreamInfoSync(null), `Cannot read ${name}`);
  const picture = input.streams[input.findBestStream(AVMEDIA_TYPE_VIDEO)];
  const sounds = input.streams.filter((s) => s.codecpar.codecType === AVMEDIA_TYPE_AUDIO && s.codecpar.sampleRate > 0);
  if (!first && sounds.length !== made.length) {
    input.closeInputSync();
    throw new MediaError(`${name} has ${sounds.length} tracks of sound where the file before it has ${made.length}.`);
  }
  const tracks = new Map(
    sounds.map((from, i): [number, Track] => {
      const held = HELD.test(avGetCodecName(from.codecpar.codecId) ?? '');
      const pcm = held ? null : makePcm(from, name);
      const to = first ? movie.newStream(null) : (made[i] as Stream);
      if (first) {
        made.push(to);
        must(pcm ? pcm.describe(to) : from.codecpar.copy(to.codecpar), `Cannot describe the sound of ${name}`);
        // The number a container gives a codec is its own; the new one chooses anew.
        to.codecpar.codecTag = 0;
        to.timeBase = new Rational(1, from.codecpar.sampleRate);
      }
      return [from.index, { from, to, pcm }];
    }),
  );
  const startOf = (s: Stream | undefined) =>
    !s || s.startTime === AV_NOPTS_VALUE ? 0 : (Number(s.startTime) * s.timeBase.num) / s.timeBase.den;
  // The source's time 0 of picture is `from` in the movie.
  const shift = source.from - startOf(picture);
  const packet = new Packet();
  packet.alloc();
  let waiting = false;
  let ended = tracks.size === 0;

  const secondsOf = (p: Packet, { from }: Track) => (Number(p.pts) * from.timeBase.num) / from.timeBase.den + shift;
  const put = (p: Packet, { to }: Track) => {
    p.streamIndex = to.index;
    must(movie.interleavedWriteFrameSync(p), `Cannot write the sound of ${name}; is the disk full?`);
  };
  const take = (track: Track, seconds: number) => {
    if (seconds >= source.to) return;
    const { from, to, pcm } = track;
    if (pcm) return pcm.feed(packet, seconds, (made) => put(made, track));
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
    close() {
      for (const { pcm } of tracks.values()) pcm?.close();
      packet.free();
      input.closeInputSync();
    },
  };
}

/** Decodes a track of sound and makes 16-bit PCM of it. */
interface PcmMaker {
  describe(to: Stream): number;
  /** `seconds`: where the packet is heard in the new movie. What cannot be decoded is left silent. */
  feed(packet: Packet, seconds: number, use: (made: Packet) => void): void;
  close(): void;
}

function makePcm({ codecpar, timeBase }: Stream, name: string): PcmMaker {
  const codec = Codec.findDecoder(codecpar.codecId);
  const writer = Codec.findEncoderByName(FF_ENCODER_PCM_S16LE);
  if (!codec || !writer) throw new MediaError(`No decoder for the sound of ${name}`);
  const { sampleRate, channelLayout } = codecpar;
  const decoder = new CodecContext();
  decoder.allocContext3(codec);
  must(decoder.parametersToContext(codecpar), `Cannot set up the decoder for the sound of ${name}`);
  decoder.pktTimebase = timeBase;
  must(decoder.open2Sync(codec, null), `Cannot start the decoder for the sound of ${name}`);
  const encoder = new CodecContext();
  encoder.allocContext3(writer);
  encoder.sampleFormat = AV_SAMPLE_FMT_S16;
  encoder.sampleRate = sampleRate;
  encoder.channelLayout = channelLayout;
  encoder.timeBase = new Rational(1, sampleRate);
  must(encoder.open2Sync(writer, null), `Cannot write the sound of ${name}`);
  const resampler = new SoftwareResampleContext();
  must(
    resampler.allocSetOpts2(channelLayout, AV_SAMPLE_FMT_S16, sampleRate, channelLayout, decoder.sampleFormat, sampleRate),
    `Cannot convert the sound of ${name}`,
  );
  must(resampler.init(), `Cannot convert the sound of ${name}`);
  const frame = new Frame();
  frame.alloc();
  const made = new Packet();
  made.alloc();
  let next: bigint | null = null;
  return {
    describe: (to) => to.codecpar.fromContext(encoder),
    feed(packet, seconds, use) {
      next ??= BigInt(Math.round(seconds * sampleRate));
      if (decoder.sendPacketSync(packet) < 0) return;
      while (decoder.receiveFrameSync(frame) >= 0) {
        const plain = new Frame();
        plain.alloc();
        plain.format = AV_SAMPLE_FMT_S16;
        plain.sampleRate = sampleRate;
        plain.channelLayout = channelLayout;
        must(resampler.convertFrame(plain, frame), `Cannot convert the sound of ${name}`);
        plain.pts = next;
        next += BigInt(plain.nbSamples);
        must(encoder.sendFrameSync(plain), `Cannot write the sound of ${name}`);
        plain.free();
        while (encoder.receivePacketSync(made) >= 0) use(made);
      }
    },
    close() {
      made.free();
      frame.free();
      resampler.free();
      encoder.freeContext();
      decoder.freeContext();
    },
  };
}
