import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { CLIP_CODECS, formatTimecode, type Heard, RATES, returnAskedSchema } from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { grabPicture, probeMovie, scan } from '../src';
import { readDpxHeader } from '../src/headers/dpx';
import { readExrHeader } from '../src/headers/exr';
import { type FrameSays, sayInDpx, sayInExr } from '../src/headers/write-frames';
import { RASTER } from './footage';
import { exr, wav } from './headers';
import { numberAt, START, ways } from './ways';

/** Clips of a return as numbered frames, with sound, and with text burnt in. */
const SECONDS = 150 / 24;
let made: ReturnType<typeof ways>;
let samples: Int16Array;
beforeAll(() => {
  const folder = mkdtempSync(path.join(tmpdir(), 'gemello-sound-'));
  const file = path.join(folder, 'sound.wav');
  const bytes = wav(Math.ceil(SECONDS), {});
  const head = bytes.length - Math.ceil(SECONDS) * 96_000;
  samples = new Int16Array(Math.ceil(SECONDS) * 48_000).map((_, i) => ((i * 7919) % 65_536) - 32_768);
  Buffer.from(samples.buffer).copy(bytes, head);
  writeFileSync(file, bytes);
  made = ways([file]);
  rmSync(folder, { recursive: true });
}, 60_000);
afterAll(() => made.end());

describe.each(['dpx', 'exr', 'tiff'] as const)('clips as %s frames', (codec) => {
  it('are folders of files numbered by their timecode, which other tools read, and show what was meant', () => {
    const { clips, problems, folder } = made.write(codec, { codec });
    expect(problems).toEqual([]);
    const [first] = clips;
    if (!first) throw new Error('a clip was written');
    const { extension, bytes } = CLIP_CODECS[codec];
    const files = readdirSync(first.path).sort();
    // 36 frames from 01:00:00:14, counted since midnight.
    expect([files.length, files[0], files[35]]).toEqual([
      36,
      `A001C001_001.00${START + 14}.${extension}`,
      `A001C001_001.00${START + 49}.${extension}`,
    ]);
    // OpenImageIO's own reader, of frame 7: 01:00:00:20.
    const said = execFileSync('iinfo', ['-v', path.join(first.path, files[6] ?? '')]).toString();
    expect(said).toContain(`${RASTER.width} x  ${RASTER.height}`);
    if (codec !== 'tiff') {
      expect(said).toContain('01:00:00:20');
      expect(said).toContain('A001');
    }
    expect(said).toMatch({ dpx: /uint10|10-bit|10 bit/i, exr: /half/, tiff: /uint16/ }[codec]);
    const each = statSync(path.join(first.path, files[6] ?? '')).size / RASTER.width / RASTER.height;
    expect(each).toBeLessThan(bytes + 2048 / RASTER.width / RASTER.height);
    // Found again by a scan, as anybody would.
    const found = scan({ folders: [folder] }, () => {}, { aborted: false }).originals.find((o) => o.path.startsWith(`${first.path}/`));
    expect(found).toMatchObject({ kind: 'frames', frames: 36, clipName: 'A001C001_001' });
    if (!found) return;
    if (codec === 'tiff') expect(found.warnings.map((w) => w.code)).toContain('rate-unknown');
    else expect(found).toMatchObject({ reel: 'A001', rate: RATES['24'], start: START + 14 });
    expect([0, 6, 35].map((n) => numberAt(found, n))).toEqual([14, 20, 49]);
  });
  it('are not made again while all of their files are as they were, and are where one is not', () => {
    const [first] = made.write(codec, { codec }).clips;
    const files = readdirSync(first?.path ?? '').sort();
    expect(made.write(codec, { codec }).clips.every((c) => c.reused)).toBe(true);
    rmSync(path.join(first?.path ?? '', files[3] ?? ''));
    const again = made.write(codec, { codec });
    expect(again.problems).toEqual([]);
    expect(again.clips.map((c) => c.reused)).toEqual([false, true, true, true, true]);
    expect(readdirSync(first?.path ?? '')).toHaveLength(36);
  });
});

describe('what a frame says of itself', () => {
  const says = (timecode: string, rate = RATES['29.97df']): FrameSays => ({
    timecode,
    rate,
    reel: 'D003',
    clip: 'D003C001',
    fileName: 'D003C001.0000007.dpx',
    position: 7,
  });
  it('is read back from a DPX header, drop frame too (SMPTE ST 268-1, ST 12-1)', () => {
    const head = Buffer.alloc(2048, 0xff);
    head.write('SDPX', 0, 'latin1');
    expect(readDpxHeader(sayInDpx(Buffer.from(head), says('00:09:58;10')))).toMatchObject({
      timecode: '00:09:58;10',
      inputDevice: 'D003',
      sourceName: 'D003C001.0000007.dpx',
      position: 7,
    });
    // Above 39 the tens of frames reach into the flag: 59.94 without drop frame is said, with it is not.
    expect(readDpxHeader(sayInDpx(Buffer.from(head), says('01:02:03:59', RATES['60'])))?.timecode).toBe('01:02:03:59');
    expect(readDpxHeader(sayInDpx(Buffer.from(head), says('01:02:03;59', RATES['60'])))?.timecode).toBeNull();
  });
  it('is read back from an OpenEXR header, and the picture behind it is where its table says', () => {
    const file = exr(16, 5, {});
    const said = sayInExr(file, says('10:11:12;13'));
    expect(readExrHeader(said)).toMatchObject({
      timecode: '10:11:12;13',
      reel: 'D003',
      clipName: 'D003C001',
      framesPerSecond: { num: 30_000, den: 1001 },
    });
    const more = said.length - file.length;
    // Piece 3 begins with its line number (OpenEXR file layout: scan line blocks).
    const table = file.length - 5 * (8 + 8 + 32);
    expect(said.readInt32LE(Number(said.readBigUInt64LE(table + more + 3 * 8)))).toBe(3);
    expect(readExrHeader(sayInExr(file, says('10:11:12:47', RATES['60'])))?.timecode).toBeNull();
  });
});

describe('sound', () => {
  const heard = (file: string, more: string[] = []) =>
    new Int16Array(
      new Uint8Array(
        execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-map', '0:a:0', ...more, '-f', 's16le', '-'], { maxBuffer: 1 << 26 }),
      ).buffer,
    );
  it.each(['intra', 'intra-mxf'] as const)('of the original goes along to the sample, in %s', (codec) => {
    const { clips, problems, warnings } = made.write(`sound-${codec}`, { codec, sound: 'original' });
    expect(problems).toEqual([]);
    const [first, fast] = clips;
    const is = heard(first?.path ?? '');
    // 48 000 samples a second are 2000 a frame: from frame 14 on, 36 frames long.
    const meant = samples.subarray(14 * 2000, 50 * 2000);
    expect(is.length).toBe(meant.length);
    expect(is.every((v, i) => v === meant[i])).toBe(true);
    // Handles and a speed left to the list: the sound of the stretch of source that the clip has.
    expect(heard(fast?.path ?? '').length).toBe((fast ? fast.given.out - fast.given.in : 0) * 2000);
    expect(warnings).toEqual([]);
  });
  it('of the reference is what is heard under the event, and events that run otherwise go without, which is said', () => {
    // The reference is the original itself, laid so that its frame 20 is the first of the cut.
    const reference: Heard = { from: 'reference', sound: made.original, lay: { start: -20, fit: null } };
    const { clips, problems, warnings } = made.write('sound-reference', { sound: 'reference' }, [], { heard: [reference] });
    expect(problems).toEqual([]);
    expect(heard(clips[0]?.path ?? '').slice(0, 4000)).toEqual(samples.slice(14 * 2000, 16 * 2000));
    // Event 005 shows frame 50 at record 72, where the reference has its frame 92; six frames of handle before.
    expect(heard(clips[4]?.path ?? '').slice(0, 4000)).toEqual(samples.slice(86 * 2000, 88 * 2000));
    expect(warnings.map((w) => w.code)).toEqual(['no-sound', 'no-sound', 'no-sound']);
  });
  it('of the guide is what is heard under the event, by when its first sample is heard', () => {
    // It begins 0.51 s before the first frame of the cut: between two frames, and at a sample.
    const guide: Heard = { from: 'guide', sound: made.original, lies: { at: -0.51, by: 'timecode' } };
    const other: Heard = { from: 'reference', sound: made.original, lay: { start: -20, fit: null } };
    const { clips, problems } = made.write('sound-guide', { sound: 'guide' }, [], { heard: [guide, other] });
    expect(problems).toEqual([]);
    // Six frames of handle before it: a quarter of a second.
    expect(heard(clips[0]?.path ?? '').slice(0, 4000)).toEqual(samples.slice(0.26 * 48_000, 0.26 * 48_000 + 4000));
  });
  it('is left out of a clip whose speed is in its pictures, which is said', () => {
    const { warnings } = made.write('sound-speed', { sound: 'original', speed: 'baked' });
    expect(warnings.filter((w) => w.code === 'no-sound')).toHaveLength(3);
  });
});

describe('text burnt in', () => {
  it('lies in its band alone, and says the timecode of the picture', () => {
    const asked = { codec: 'review', burnIn: '{name} {source}', burnAt: 'head', burnSize: 'large' } as const;
    const { clips, problems } = made.write('burnt', asked);
    expect(problems).toEqual([]);
    const plain = made.write('plain', { codec: 'review' });
    const rows = (file: string, n: number) => {
      const pixels = grabPicture(probeMovie(file), n, RASTER.width, RASTER.height)?.pixels as Uint8Array;
      return Array.from({ length: RASTER.height }, (_, y) => pixels.subarray(y * RASTER.width * 3, (y + 1) * RASTER.width * 3));
    };
    const differ = (a: Uint8Array, b: Uint8Array) => a.reduce((sum, v, i) => sum + Math.abs(v - (b[i] as number)), 0) / a.length;
    const [burnt, bare] = [rows(clips[0]?.path ?? '', 6), rows(plain.clips[0]?.path ?? '', 6)];
    const each = burnt.map((row, y) => differ(row, bare[y] as Uint8Array));
    // A tenth of 144 lines; a row aside is left out, since coding smears.
    expect(Math.min(...each.slice(0, 12))).toBeGreaterThan(20);
    expect(Math.max(...each.slice(18))).toBeLessThan(6);
    // The last digit is another from frame to frame.
    const next = rows(clips[0]?.path ?? '', 7);
    expect(Math.max(...burnt.slice(0, 14).map((row, y) => differ(row, next[y] as Uint8Array)))).toBeGreaterThan(1);
  });
  it('is for clips to look at alone, and takes in what there is', () => {
    const fault = (asked: object) => returnAskedSchema.safeParse(asked).error?.issues[0]?.message;
    expect(fault({ burnIn: '{name}' })).toContain('Choose H.264 or HEVC');
    expect(fault({ codec: 'review', burnIn: '{camera}' })).toContain('{camera} is not known here');
    expect(fault({ codec: 'dpx', sound: 'original' })).toContain('Numbered frames have no sound');
    expect(fault({ codec: 'review-hevc', burnIn: '{event} {record}', sound: 'original' })).toBeUndefined();
  });
  it('is not taken for one without, nor for one that says something else', () => {
    const asked = { codec: 'review', burnIn: '{record}' } as const;
    expect(made.write('marks', asked).clips.some((c) => c.reused)).toBe(false);
    expect(made.write('marks', asked).clips.every((c) => c.reused)).toBe(true);
    expect(made.write('marks', { ...asked, burnSize: 'small' }).clips.some((c) => c.reused)).toBe(false);
  });
});

it('the report of a return says the same as a page and as a document, by pdftotext', () => {
  const { folder } = made.write('report', {});
  const starts = formatTimecode(START + 14, RATES['24']);
  expect(readFileSync(path.join(folder, 'BACK-report.html'), 'utf8')).toContain(starts);
  const text = execFileSync('pdftotext', ['-layout', path.join(folder, 'BACK-report.pdf'), '-']).toString();
  for (const said of ['5 clips for 5 of 5 events', 'A001C001_001.mov', starts, 'All as planned', 'BACK.edl']) expect(text).toContain(said);
});
