import path from 'node:path';
import {
  AV_CHANNEL_LAYOUT_STEREO,
  AV_NOPTS_VALUE,
  AV_SAMPLE_FMT_S16,
  AVERROR_EAGAIN,
  AVMEDIA_TYPE_AUDIO,
  AVMEDIA_TYPE_VIDEO,
  AVSEEK_FLAG_BACKWARD,
} from 'node-av/constants';
import { FormatContext, Frame, Packet, SoftwareResampleContext, type Stream } from 'node-av/lib';
import { MediaError } from '../plain';
import { must } from './av';
import { namedLayout, soundDecoder, startOf } from './sound';

/** What is heard is given at this rate, in two channels, 16 bits each. */
export const HEARD = { sampleRate: 48_000, channels: 2 } as const;
/** The layout of two channels, left and right. */
const STEREO = AV_CHANNEL_LAYOUT_STEREO;
/** Codecs of sound need to hear so much before what is wanted, in seconds. */
const LEAD = 0.5;

/**
 * Hears the first track of sound of a movie between two moments, in seconds from its first picture, and hands over what it gives:
 * samples in turn for left and right, and where they begin, counted from the first picture. What the file has nothing of is left out.
 * Throws MediaError where there is no sound or it cannot be decoded; damaged packets are left silent.
 */
export function listen(file: string, from: number, to: number, take: (samples: Int16Array, at: number) => void): void {
  const name = path.basename(file);
  const input = new FormatContext();
  must(input.openInputSync(file, null, null), `Cannot open ${name}`);
  const packet = new Packet();
  packet.alloc();
  const frame = new Frame();
  frame.alloc();
  let hearing: ReturnType<typeof decoderOf> | null = null;
  try {
    must(input.findStreamInfoSync(null), `Cannot read ${name}`);
    const stream = input.streams[input.findBestStream(AVMEDIA_TYPE_AUDIO)];
    if (!stream) throw new MediaError(`${name} has no sound.`);
    const start = startOf(input.streams[input.findBestStream(AVMEDIA_TYPE_VIDEO)]);
    const { num, den } = stream.timeBase;
    const wanted = BigInt(Math.round(((from - LEAD + start) * den) / num));
    // Where it begins later than what is looked for, there is nothing to seek.
    if (from > LEAD) must(input.seekFrameSync(stream.index, wanted, AVSEEK_FLAG_BACKWARD), `Cannot find ${from} s of ${name}`);
    hearing = decoderOf(stream, name);
    const { decoder, resampler, laid } = hearing;
    let next: number | null = null;
    const use = () => {
      while (decoder.receiveFrameSync(frame) >= 0) {
        const seconds = (Number(frame.pts) * num) / den - start;
        const { sampleRate } = frame;
        // A gap in the file is a gap in what is heard; what differs by less than a sample or two is rounding.
        const said = Math.round(seconds * HEARD.sampleRate);
        if (frame.pts !== AV_NOPTS_VALUE && (next === null || Math.abs(said - next) > HEARD.sampleRate / 50)) next = said;
        const plain = new Frame();
        plain.alloc();
        plain.format = AV_SAMPLE_FMT_S16;
        plain.sampleRate = HEARD.sampleRate;
        plain.channelLayout = STEREO;
        frame.channelLayout = laid;
        must(resampler.convertFrame(plain, frame), `Cannot convert the sound of ${name} (${sampleRate} a second)`);
        const bytes = plain.data?.[0];
        const count = plain.nbSamples;
        if (bytes && count > 0) {
          const all = new Int16Array(bytes.buffer, bytes.byteOffset, count * HEARD.channels).slice();
          give(all, next ?? 0, from, to, take);
          next = (next ?? 0) + count;
        }
        plain.free();
      }
      return next !== null && next >= to * HEARD.sampleRate;
    };
    for (let over = false; !over; ) {
      const got = input.readFrameSync(packet);
      if (got === AVERROR_EAGAIN) continue;
      if (got < 0) {
        decoder.sendPacketSync(null);
        use();
        break;
      }
      if (packet.streamIndex === stream.index && decoder.sendPacketSync(packet) >= 0) over = use();
      packet.unref();
    }
  } finally {
    hearing?.close();
    frame.free();
    packet.free();
    input.closeInputSync();
  }
}

/** How long a file says it is, in seconds. Throws MediaError when it cannot be opened. */
export function secondsOf(file: string): number {
  const input = new FormatContext();
  must(input.openInputSync(file, null, null), `Cannot open ${path.basename(file)}`);
  try {
    must(input.findStreamInfoSync(null), `Cannot read ${path.basename(file)}`);
    return Math.max(0, Number(input.duration) / 1e6);
  } finally {
    input.closeInputSync();
  }
}

/** Hands over as much of some samples as lies between two moments. */
function give(samples: Int16Array, at: number, from: number, to: number, take: (samples: Int16Array, at: number) => void): void {
  const first = Math.max(at, Math.round(from * HEARD.sampleRate));
  const end = Math.min(at + samples.length / HEARD.channels, Math.round(to * HEARD.sampleRate));
  if (end > first) take(samples.subarray((first - at) * HEARD.channels, (end - at) * HEARD.channels), first);
}

function decoderOf(stream: Stream, name: string) {
  const decoder = soundDecoder(stream, name);
  const resampler = new SoftwareResampleContext();
  const { sampleRate, channelLayout } = stream.codecpar;
  const laid = namedLayout(channelLayout);
  must(
    resampler.allocSetOpts2(STEREO, AV_SAMPLE_FMT_S16, HEARD.sampleRate, laid, decoder.sampleFormat, sampleRate),
    `Cannot convert the sound of ${name}`,
  );
  must(resampler.init(), `Cannot convert the sound of ${name}`);
  return {
    decoder,
    resampler,
    laid,
    close() {
      resampler.free();
      decoder.freeContext();
    },
  };
}
