import { closeSync, openSync, readSync, statSync } from 'node:fs';
import path from 'node:path';
import {
  canDropFrames,
  type Original,
  parseTimecode,
  RATES,
  type Rate,
  rateFromDecimal,
  rateOf,
  sameSpeed,
  type Warning,
  withoutExtension,
} from '@gemello/core';
import { AV_NOPTS_VALUE, AV_PKT_FLAG_DISCARD, AVMEDIA_TYPE_AUDIO } from 'node-av/constants';
import { avGetCodecName, Packet, type Rational, type Stream } from 'node-av/lib';
import { DPX_HEADER_BYTES, readDpxHeader } from './dpx';
import { type OpenFile, openFile } from './engine/reader';

/** Reads all that a movie file says of itself. Opened read-only; throws MediaError when it is no movie. */
export function probeMovie(file: string): Original {
  const opened = openFile(file);
  try {
    return describeMovie(file, opened);
  } finally {
    opened.format.closeInputSync();
  }
}

function describeMovie(file: string, { format, stream }: OpenFile): Original {
  const warnings: Warning[] = [];
  const tags = [stream, ...format.streams].map((s) => s.metadata?.getAll() ?? {});
  tags.push(format.metadata?.getAll() ?? {});
  const tag = (name: string) => tags.map((t) => t[name]).find((v) => v !== undefined && v !== '') ?? '';
  const label = tag('timecode');
  const rate = rateOfStream(stream, label, warnings);
  const start = label ? parseTimecode(label, rate) : null;
  const sound = format.streams.find((s) => s.codecpar.codecType === AVMEDIA_TYPE_AUDIO);
  const fileName = path.basename(file);
  return {
    path: file,
    kind: 'movie',
    reel: tag('reel_name'),
    clipName: withoutExtension(fileName),
    fileName,
    start: start ?? 0,
    hasTimecode: start !== null,
    frames: countFrames({ format, stream }, rate, warnings),
    rate,
    raster: { width: stream.codecpar.width, height: stream.codecpar.height },
    pixelAspect: pixelAspectOf(stream),
    codec: avGetCodecName(stream.codecpar.codecId) ?? 'unknown',
    sound: sound ? { channels: sound.codecpar.channels, sampleRate: sound.codecpar.sampleRate } : null,
    files: [],
    sidecars: [],
    bytes: statSync(file).size,
    warnings,
  };
}

/** Width of a pixel over its height; null where the file does not say it. */
function pixelAspectOf({ codecpar, sampleAspectRatio }: Stream): number | null {
  const { num, den } = codecpar.sampleAspectRatio.num > 0 ? codecpar.sampleAspectRatio : sampleAspectRatio;
  return num > 0 && den > 0 ? num / den : null;
}

/** The stream's rate as an exact fraction; a `;` in its timecode says drop-frame (SMPTE ST 12-1, common practice). */
function rateOfStream(stream: Stream, label: string, warnings: Warning[]): Rate {
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
  return { ...rate, dropFrame: /;\d+$/.test(label) && canDropFrames(rate) };
}

function exact(r: Rational): Rate | null {
  if (!r || r.num <= 0 || r.den <= 0) return null;
  const plain = rateOf(r.num, r.den);
  if (plain.den === 1 || plain.den === 1001) return plain;
  return rateFromDecimal(r.num / r.den);
}

/**
 * Counts pictures: by the container's index where that agrees with the duration, else packet by
 * packet. Packets marked as discarded (an edit list cut them off) are not counted.
 */
function countFrames({ format, stream }: OpenFile, rate: Rate, warnings: Warning[]): number {
  const indexed = Number(stream.nbFrames);
  const seconds = stream.duration === AV_NOPTS_VALUE ? null : (Number(stream.duration) * stream.timeBase.num) / stream.timeBase.den;
  const byDuration = seconds === null ? null : (seconds * rate.num) / rate.den;
  if (indexed > 0 && byDuration !== null && Math.abs(indexed - byDuration) < 0.5) return indexed;
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
  return count;
}

/** Reads a single picture as a still, or as the first of numbered frames. */
export function probeStill(file: string): Original {
  const { format, stream } = openFile(file);
  try {
    const fileName = path.basename(file);
    return {
      path: file,
      kind: 'still',
      reel: '',
      clipName: withoutExtension(fileName),
      fileName,
      start: 0,
      hasTimecode: false,
      frames: 1,
      rate: RATES['24'],
      raster: { width: stream.codecpar.width, height: stream.codecpar.height },
      pixelAspect: pixelAspectOf(stream),
      codec: avGetCodecName(stream.codecpar.codecId) ?? 'unknown',
      sound: null,
      files: [],
      sidecars: [],
      bytes: statSync(file).size,
      warnings: [],
    };
  } finally {
    format.closeInputSync();
  }
}

/** Reads a run of numbered frames as one clip; the first frame's header gives timecode, rate and reel. */
export function probeNumbered(folder: string, stem: string, files: readonly string[], gaps: readonly number[]): Original {
  const first = path.join(folder, files[0] as string);
  const still = probeStill(first);
  const header = readDpxHeader(headOf(first, DPX_HEADER_BYTES));
  const rate = (header?.framesPerSecond && rateFromDecimal(header.framesPerSecond)) || RATES['24'];
  const start = header?.timecode ? parseTimecode(header.timecode, rate) : null;
  const warnings: Warning[] = [];
  if (!header?.framesPerSecond) warnings.push({ code: 'rate-unknown', message: 'The frames do not say their rate; 24 was taken.' });
  if (gaps.length > 0) {
    const shown = gaps.slice(0, 5).join(', ');
    warnings.push({
      code: 'frames-missing',
      message: `${gaps.length} numbered frames are missing (${shown}${gaps.length > 5 ? ', …' : ''}). Copy the folder again.`,
    });
  }
  return {
    ...still,
    kind: 'frames',
    reel: header?.inputDevice ?? '',
    clipName: stem.replace(/[ _.-]+$/, '') || path.basename(folder),
    start: start ?? 0,
    hasTimecode: start !== null,
    frames: files.length,
    rate,
    files,
    bytes: files.reduce((sum, f) => sum + statSync(path.join(folder, f)).size, 0),
    warnings,
  };
}

function headOf(file: string, length: number): Uint8Array {
  const bytes = new Uint8Array(length);
  const handle = openSync(file, 'r');
  try {
    return bytes.subarray(0, readSync(handle, bytes, 0, length, 0));
  } finally {
    closeSync(handle);
  }
}
