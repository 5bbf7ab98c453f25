import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { loudest, PEAKS_EACH, RATES } from '@gemello/core';
import { AV_PIX_FMT_RGBA } from 'node-av/constants';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { HEARD, openMovieWriter } from '../src/engine';
import { hearPeaks, hearPiece } from '../src/tasks/heard';
import { scratch } from './scratch';

/** Movies that the ffmpeg program makes: silence with a click of 10 ms at 1 s and at 5 s from their first picture. */
const files = scratch();
const [plain, late, silent] = [files.at('plain.mov'), files.at('late.mp4'), files.at('silent.mov')];
const CLICK = "aevalsrc='if(between(t,1,1.01)+between(t,5,5.01),0.9*sin(2*PI*1000*t),0)':s=44100:d=6";
const PICTURE = ['-f', 'lavfi', '-i', 'color=black:s=64x64:r=24:d=6'];
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
beforeAll(() => {
  ffmpeg(...PICTURE, '-f', 'lavfi', '-i', CLICK, '-c:v', 'mpeg4', '-c:a', 'pcm_s24le', plain);
  // Its pictures begin two seconds into the file, as after an edit of its head: 0 is the first picture all the same.
  ffmpeg('-itsoffset', '2', ...PICTURE, '-itsoffset', '2', '-f', 'lavfi', '-i', CLICK, '-copyts', '-c:v', 'mpeg4', '-c:a', 'aac', late);
  ffmpeg(...PICTURE, '-c:v', 'mpeg4', silent);
});
afterAll(() => files.end());

/** The moment of the first loud sample, in seconds from the first picture. */
const clickIn = (samples: Int16Array, from: number) => from + samples.findIndex((v) => Math.abs(v) > 8000) / 2 / HEARD.sampleRate;

describe('a piece of sound', () => {
  it('begins at the sample that was asked for, counted from the first picture', () => {
    for (const from of [0, 0.5, 0.96]) expect(clickIn(hearPiece({ path: plain, from, to: from + 2 }), from)).toBeCloseTo(1, 3);
    expect(clickIn(hearPiece({ path: plain, from: 4, to: 6 }), 4)).toBeCloseTo(5, 3);
  });
  it('is in step where pictures and sound begin late in the file, and its codec needs a lead (AAC)', () => {
    // Within 2 ms, a twentieth of a frame: what a codec smears ahead of a click.
    for (const [from, click] of [
      [0, 1],
      [4, 5],
    ] as const)
      expect(Math.abs(clickIn(hearPiece({ path: late, from, to: from + 2 }), from) - click)).toBeLessThan(0.002);
  });
  it('has as many samples as asked for, silent past the end', () => {
    const piece = hearPiece({ path: plain, from: 5.5, to: 9.5 });
    expect(piece.length).toBe(4 * HEARD.sampleRate * HEARD.channels);
    expect(piece.subarray(HEARD.sampleRate * 2).every((v) => v === 0)).toBe(true);
  });
  it('is refused of a movie without sound', () => {
    expect(() => hearPiece({ path: silent, from: 0, to: 1 })).toThrow('silent.mov has no sound');
  });
});

it('that is PCM goes into an MP4 as AAC, in step to two thousandths of a second (ffprobe; MP4 holds no PCM that all can read)', () => {
  const [click, movie] = [files.at('click.wav'), files.at('review.mp4')];
  ffmpeg('-f', 'lavfi', '-i', CLICK, '-ac', '2', click);
  const writer = openMovieWriter(movie, {
    writer: 'long-gop-small',
    raster: { width: 64, height: 64 },
    rate: RATES['24'],
    timecode: null,
    reel: null,
    sound: [{ path: click, from: 0, to: 6 }],
  });
  const black = new Uint8Array(64 * 64 * 4);
  for (let n = 0; n < 144; n++) writer.writePixels(black, AV_PIX_FMT_RGBA);
  writer.close();
  const codec = execFileSync('ffprobe', [
    '-v',
    'error',
    '-select_streams',
    'a',
    '-show_entries',
    'stream=codec_name,duration',
    '-of',
    'csv=p=0',
    movie,
  ]);
  expect(codec.toString().trim()).toMatch(/^aac,(5\.99|6\.0)/);
  for (const from of [0, 4]) expect(Math.abs(clickIn(hearPiece({ path: movie, from, to: from + 2 }), from) - from - 1)).toBeLessThan(0.002);
});

it('shows where a movie is loud, by hundredths of a second', () => {
  const file = files.at('peaks.bin');
  expect(hearPeaks({ path: plain, file, seconds: 6 }, () => {}, { aborted: false })).toBe(6 * PEAKS_EACH);
  const peaks = new Uint8Array(readFileSync(file));
  // 0.9 of full, 3 dB less on each of two channels (common practice).
  expect(loudest(peaks, 1, 1.01)).toBeGreaterThan(150);
  expect(loudest(peaks, 0, 0.99)).toBe(0);
  expect(loudest(peaks, 4.9, 5.2)).toBeGreaterThan(150);
  expect(loudest(peaks, 7, 8)).toBe(0);
});
