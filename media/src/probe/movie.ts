import path from 'node:path';
import {
  formatRate,
  type Original,
  RATES,
  type Rate,
  rateFromDecimal,
  rateOf,
  sameSpeed,
  settleClaims,
  type Warning,
  withoutExtension,
} from '@gemello/core';
import { AV_NOPTS_VALUE, AV_PKT_FLAG_DISCARD, AVMEDIA_TYPE_AUDIO } from 'node-av/constants';
import { avGetCodecName, Packet, type Rational, type Stream } from 'node-av/lib';
import { type OpenFile, openFile } from '../engine/reader';
import { type FileHead, withHead } from '../headers/file';
import { missingBytes } from '../headers/whole';
import { ALONE, type Beside, stampOf } from './beside';
import { containerClaims } from './container';

/** Reads all that a movie file says of itself, and what stands beside it. Opened read-only; throws MediaError when it is no movie. */
export function probeMovie(file: string, beside: Beside = ALONE): Original {
  const opened = openFile(file);
  try {
    return withHead(file, (head) => describeMovie(file, opened, head, beside));
  } finally {
    opened.format.closeInputSync();
  }
}

function describeMovie(file: string, { format, stream }: OpenFile, head: FileHead, beside: Beside): Original {
  const warnings: Warning[] = [];
  const rate = rateOfStream(stream, warnings);
  const header = containerClaims(head, { format, stream }, rate, warnings);
  if (!warnings.some((w) => w.code === 'rate-unknown'))
    header.push({ field: 'rate', value: formatRate(rate), origin: 'the picture track' });
  const sound = format.streams.find((s) => s.codecpar.codecType === AVMEDIA_TYPE_AUDIO);
  const fileName = path.basename(file);
  const settled = settleClaims([...header, ...beside.said], rate, withoutExtension(fileName));
  return {
    ...settled,
    path: file,
    kind: 'movie',
    clock: rate,
    fileName,
    frames: countFrames(head, { format, stream }, rate, warnings),
    raster: { width: stream.codecpar.width, height: stream.codecpar.height },
    pixelAspect: pixelAspectOf(stream),
    codec: avGetCodecName(stream.codecpar.codecId) ?? 'unknown',
    sound: sound ? { channels: sound.codecpar.channels, sampleRate: sound.codecpar.sampleRate } : null,
    files: [],
    gaps: [],
    pieces: [],
    sidecars: beside.sidecars,
    checksums: beside.checksums,
    measured: [],
    grades: beside.grades,
    ...stampOf([file], beside.papers, head.state),
    print: '',
    warnings: [...warnings, ...settled.warnings],
  };
}

/** Width of a pixel over its height; null where the file does not say it. */
export function pixelAspectOf({ codecpar, sampleAspectRatio }: Stream): number | null {
  const { num, den } = codecpar.sampleAspectRatio.num > 0 ? codecpar.sampleAspectRatio : sampleAspectRatio;
  return num > 0 && den > 0 ? num / den : null;
}

/** The stream's rate as an exact fraction; how its timecode is counted is for the timecode to say. */
function rateOfStream(stream: Stream, warnings: Warning[]): Rate {
  const average = exact(stream.avgFrameRate);
  const base = exact(stream.rFrameRate);
  if (average && base && !sameSpeed(average, base) && Math.abs(average.num / average.den - base.num / base.den) > 0.02)
    warnings.push({
      code: 'variable-rate',
      message: 'The frame rate varies within the file, so frame numbers and timecode drift apart. Ask for a constant-rate copy.',
    });
  const rate = average ?? base;
  if (!rate) {
    warnings.push({ code: 'rate-unknown', message: 'The file does not say its frame rate; 24 was taken.' });
    return RATES['24'];
  }
  return rate;
}

function exact(r: Rational): Rate | null {
  if (!r || r.num <= 0 || r.den <= 0) return null;
  const plain = rateOf(r.num, r.den);
  if (plain.den === 1 || plain.den === 1001) return plain;
  return rateFromDecimal(r.num / r.den);
}

/**
 * Counts pictures: by the container's index where that agrees with the duration, else packet by
 * packet. Packets marked as discarded (an edit list cut them off) are not counted. Of a file that is cut
 * off, only the pictures that are there count.
 */
function countFrames(head: FileHead, { format, stream }: OpenFile, rate: Rate, warnings: Warning[]): number {
  const indexed = Number(stream.nbFrames);
  const seconds = stream.duration === AV_NOPTS_VALUE ? null : (Number(stream.duration) * stream.timeBase.num) / stream.timeBase.den;
  const byDuration = seconds === null ? null : (seconds * rate.num) / rate.den;
  const missing = missingBytes(head);
  if (missing === 0 && indexed > 0 && byDuration !== null && Math.abs(indexed - byDuration) < 0.5) return indexed;
  const packet = new Packet();
  packet.alloc();
  let count = 0;
  while (format.readFrameSync(packet) >= 0) {
    if (packet.streamIndex === stream.index && !packet.hasFlags(AV_PKT_FLAG_DISCARD)) count++;
    packet.unref();
  }
  packet.free();
  if (count === 0)
    warnings.push({ code: 'no-frames', message: 'No frame could be read; the file is empty or cut off. Copy it again from the card.' });
  else if (missing > 0) {
    const promised = indexed > count ? indexed : Math.round(byDuration ?? 0);
    warnings.push({
      code: 'truncated',
      message: `The file is cut off: ${count}${promised > count ? ` of ${promised}` : ''} frames can be read. Copy it again from the card.`,
    });
  }
  return count;
}
