import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, symlinkSync, truncateSync, utimesSync } from 'node:fs';
import path from 'node:path';
import { formatTimecode, joinSpans, RATES, withWarnings, writeCdlFile } from '@gemello/core';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { dpxFrame } from '../../demo/src/dpx';
import { closePictures, grabPicture, probeMovie, probeSound, probeStill, scan } from '../src';
import { readWavHeader } from '../src/headers/bwf';
import { readDpxHeader } from '../src/headers/dpx';
import { readExrHeader } from '../src/headers/exr';
import { withHead } from '../src/headers/file';
import { missingBytes } from '../src/headers/whole';
import { named, numberIn, writeClip, writeFrames } from './footage';
import { exr, packedTimecode, wav } from './headers';
import { scratch } from './scratch';

const { folder, put, end } = scratch();
afterAll(end);

const scanned = (at: string, known?: ReadonlyMap<string, string>) =>
  scan({ folders: [path.join(folder, at)], known }, () => {}, { aborted: false });
const exiftool = (file: string) => JSON.parse(execFileSync('exiftool', ['-json', '-n', file]).toString())[0];
const mediainfo = (file: string) => JSON.parse(execFileSync('mediainfo', ['--Output=JSON', file]).toString()).media.track;

describe('the OpenEXR header (OpenEXR file layout)', () => {
  const bytes = exr(64, 36, { timecode: packedTimecode(10, 22, 33, 7, false), fps: [24000, 1001], reel: 'A017', aspect: 2 });
  it('gives raster, pixel aspect, timecode, rate and reel', () => {
    expect(readExrHeader(bytes)).toEqual({
      width: 64,
      height: 36,
      pixelAspect: 2,
      timecode: '10:22:33:07',
      framesPerSecond: { num: 24000, den: 1001 },
      reel: 'A017',
      clipName: '',
      created: '',
    });
  });
  it('counts in drop-frame where its flag is set (SMPTE ST 12-1, bit 6)', () => {
    expect(readExrHeader(exr(8, 8, { timecode: packedTimecode(1, 0, 0, 2, true) }))?.timecode).toBe('01:00:00;02');
  });
  it('agrees with the exiftool and ffprobe programs of Debian', () => {
    const file = put('agree.exr', bytes);
    expect(exiftool(file)).toMatchObject({ ImageWidth: 64, ImageHeight: 36, PixelAspectRatio: 2, ReelName: 'A017' });
    const shown = execFileSync('ffprobe', [
      '-v',
      'error',
      '-show_entries',
      'stream=width,height,sample_aspect_ratio',
      '-of',
      'csv=p=0',
      file,
    ]);
    expect(shown.toString().trim()).toBe('64,36,2:1');
    expect(probeStill(file)).toMatchObject({ raster: { width: 64, height: 36 }, pixelAspect: 2, codec: 'exr' });
  });
  it('is heard of a single frame as well: a still has a reel and a timecode where its header says so', () => {
    const still = probeStill(put('single.exr', bytes));
    expect(still).toMatchObject({ kind: 'still', frames: 1, reel: 'A017', clipName: 'single', hasTimecode: true });
    expect(formatTimecode(still.start, still.rate)).toBe('10:22:33:07');
    expect(still.claims.map((c) => c.field)).toEqual(['timecode', 'reel', 'rate']);
  });
  it('makes numbered frames one clip, with its gap and its sources', () => {
    for (const n of [1, 2, 4]) put(`run/E001/shot.${String(n).padStart(4, '0')}.exr`, bytes);
    const [clip] = scanned('run').originals;
    expect(clip).toMatchObject({
      kind: 'frames',
      frames: 4,
      gaps: [{ in: 2, out: 3 }],
      reel: 'A017',
      rate: RATES['23.976'],
      warnings: [{ code: 'frames-missing' }],
    });
    expect(clip?.claims.map((c) => [c.field, c.value, c.origin, c.taken])).toEqual([
      ['timecode', '10:22:33:07', 'the OpenEXR header', true],
      ['reel', 'A017', 'the OpenEXR header', true],
      ['rate', '23.976', 'the OpenEXR header', true],
      ['reel', 'E001', 'the folder name', false],
    ]);
  });
});

describe('the Broadcast Wave header (EBU Tech 3285)', () => {
  const ixml =
    '<BWFXML><SCENE>12</SCENE><TAKE>3</TAKE><TAPE>S07</TAPE><SPEED><TIMECODE_RATE>24000/1001</TIMECODE_RATE><TIMECODE_FLAG>NDF</TIMECODE_FLAG></SPEED></BWFXML>';
  // One hour of real time at 48 kHz.
  const bytes = wav(2, { samplesSinceMidnight: 48_000 * 3600, ixml });
  it('starts at its time reference, in samples since midnight, at the rate of iXML', () => {
    const file = put('sound.wav', bytes);
    const sound = probeSound(file);
    expect(sound).toMatchObject({
      kind: 'sound',
      reel: 'S07',
      clipName: '12_3',
      rate: RATES['23.976'],
      frames: 47,
      sound: { channels: 1, sampleRate: 48_000 },
    });
    // 3600 s are 86 313 whole frames at 24000/1001.
    expect(sound.start).toBe(86_313);
    const [general] = mediainfo(file);
    expect([Number(general.extra?.Delay ?? mediainfo(file)[1].Delay), general.Description]).toEqual([3600, 'slate of the salt house']);
  });
  it('agrees with the exiftool program on the time reference', () => {
    expect(exiftool(put('sound2.wav', wav(1, { samplesSinceMidnight: 5_000_000_000 }))).TimeReference).toBe(5_000_000_000);
    expect(withHead(path.join(folder, 'sound2.wav'), readWavHeader)?.timeReference).toBe(5_000_000_000);
  });
  it('and on when it was recorded', () => {
    const file = put('sound3.wav', wav(1, { samplesSinceMidnight: 0 }));
    const created = probeSound(file).claims.find((c) => c.field === 'created');
    expect(created).toMatchObject({ value: '2026-04-12 05:41:12', origin: 'the bext chunk' });
    expect(exiftool(file).DateTimeOriginal).toBe(created?.value.replaceAll('-', ':'));
  });
  it('of a file that is cut off says how much sound is there', () => {
    const file = put('short.wav', bytes.subarray(0, bytes.length - 96_000));
    expect(probeSound(file)).toMatchObject({ frames: 23, warnings: [{ code: 'truncated', message: expect.stringContaining('1.0 s') }] });
  });
});

describe('DPX', () => {
  it('agrees with the exiftool program on every field it knows too', () => {
    writeFrames(path.join(folder, 'dpx', 'S004'), 3);
    const file = path.join(folder, 'dpx', 'S004', 'S004.0001001.dpx');
    const ours = readDpxHeader(readFileSync(file));
    const theirs = exiftool(file);
    expect([theirs.ImageWidth, theirs.ImageHeight, theirs.TimeCode]).toEqual([ours?.width, ours?.height, expect.anything()]);
    expect(Number(theirs.TimeCode).toString(16).padStart(8, '0')).toBe(ours?.timecode?.replaceAll(':', ''));
    expect(theirs.InputDeviceName).toBe(ours?.inputDevice);
  });
});

it('a DPX run whose first frame is not the first of its run lacks its head (SMPTE ST 268-1, frame position at 1712)', () => {
  const codes = (at: string, positions: readonly number[], from: number) => {
    positions.forEach((position, i) => {
      const fields = { timecode: '01:00:00:00', framesPerSecond: 24, device: 'S1', name: '', position };
      put(`${at}/run.${from + i}.dpx`, dpxFrame(new Uint8ClampedArray(4 * 4 * 2), 4, 2, fields));
    });
    return scanned(at).originals.flatMap((o) => o.warnings.map((w) => w.code));
  };
  expect(codes('head/whole', [0, 1, 2], 1001)).toEqual([]);
  expect(codes('head/cut', [24, 25, 26], 1025)).toEqual(['head-missing']);
  expect(codes('head/numbered', [1001, 1002, 1003], 1001)).toEqual([]);
});

it('a DPX frame that was made from another names its clip (SMPTE ST 268-1, source image at 1432)', () => {
  const named = (source: string) => {
    const fields = { timecode: '01:00:00:00', framesPerSecond: 24, device: 'S1', name: source, position: 0 };
    for (const n of [1, 2]) put(`dpxname/scan.000${n}.dpx`, dpxFrame(new Uint8ClampedArray(4 * 4 * 2), 4, 2, fields));
    return scanned('dpxname').originals[0]?.clipName;
  };
  expect([named('A001C003_260412.0001001.dpx'), named('scan.0001.dpx'), named('')]).toEqual(['A001C003_260412', 'scan', 'scan']);
});

describe('readers of headers, given anything', () => {
  const whole = [exr(16, 9, { timecode: 1, fps: [24, 1], reel: 'A' }), wav(0, { samplesSinceMidnight: 1, ixml: '<BWFXML/>' })];
  it('never throw, never hang', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 4000 }), (bytes) => {
        readExrHeader(Buffer.from(bytes));
        readDpxHeader(Buffer.from(bytes));
        return true;
      }),
    );
    for (const bytes of whole)
      fc.assert(
        fc.property(fc.nat(bytes.length - 1), fc.nat(255), fc.nat(bytes.length), (at, value, cut) => {
          const flipped = Buffer.from(bytes.subarray(0, cut));
          if (at < flipped.length) flipped[at] = value;
          readExrHeader(flipped);
          const file = put('flipped.bin', flipped);
          withHead(file, readWavHeader);
          return withHead(file, missingBytes) >= 0;
        }),
        { numRuns: 300 },
      );
  });
});

describe('a movie that is cut off', () => {
  it('says how many of its frames can be read (MXF: SMPTE ST 336 packets)', () => {
    const file = path.join(folder, 'cut', 'B002C001.mxf');
    writeClip(file, { writer: 'intra-mpeg', rate: RATES['25'], start: '02:00:00:00', reel: 'B002', frames: 40 });
    const before = readFileSync(file).length;
    expect(withHead(file, missingBytes)).toBe(0);
    truncateSync(file, Math.floor(before * 0.6));
    const found = probeMovie(file);
    expect(found.frames).toBeGreaterThan(10);
    expect(found.frames).toBeLessThan(40);
    expect(found.warnings).toMatchObject([{ code: 'truncated', message: expect.stringContaining(`${found.frames}`) }]);
  });
  it('or empty is named among the problems', () => {
    put('empty/A001.mov', '');
    expect(scanned('empty').problems).toMatchObject([{ message: expect.stringContaining('empty (0 bytes)') }]);
  });
});

describe('what stands beside a clip', () => {
  beforeAll(() => {
    // The header knows no timecode and no reel: both are in the sidecar (TRADE.md: timecode in a sidecar).
    writeClip(path.join(folder, 'card', 'media', 'X1.mp4'), {
      writer: 'long-gop',
      rate: RATES['25'],
      start: '00:00:00:00',
      reel: '',
      frames: 12,
    });
    put('card/media/X1M01.XML', '<Meta><StartTimecode>22:23:10:00</StartTimecode><CardId>Q042</CardId><FrameRate>25</FrameRate></Meta>');
    writeClip(path.join(folder, 'card', 'media', 'X2.mp4'), {
      writer: 'long-gop',
      rate: RATES['25'],
      start: '10:00:00:00',
      reel: '',
      frames: 12,
    });
    put('card/log.csv', 'File name,Start TC,Reel\nX2.mp4,11:00:00:00,Q043\n');
    put('card/media/X2.cube', 'TITLE "warm"\nLUT_1D_SIZE 2\n0 0 0\n1 1 1\n');
    put('card/media/X2.cc', '<ColorCorrection><SOPNode><Slope>-1 1 1</Slope></SOPNode></ColorCorrection>');
    put(
      'card/dailies.ccc',
      writeCdlFile([{ id: 'X2', cdl: { slope: [1.1, 1, 0.9], offset: [0, 0, 0], power: [1, 1, 1], saturation: 0.8 } }]),
    );
    put(
      'card/ascmhl/0001_card.mhl',
      '<hashlist version="2.0"><hashes><hash><path>media/X1.mp4</path><xxh64>0ea03b369a463d9d</xxh64></hash></hashes></hashlist>',
    );
  });
  it('gives timecode and reel that the header lacks, and every source is kept', () => {
    const clip = named(scanned('card').originals, 'X1.mp4');
    expect([formatTimecode(clip.start, clip.rate), clip.reel, clip.sidecars]).toEqual(['22:23:10:00', 'Q042', ['X1M01.XML']]);
    expect(clip.claims.filter((c) => c.taken).map((c) => [c.field, c.origin])).toEqual([
      ['rate', 'the picture track'],
      ['timecode', 'sidecar X1M01.XML'],
      ['reel', 'sidecar X1M01.XML'],
    ]);
    expect(clip.checksums).toEqual([{ file: 'X1.mp4', algorithm: 'xxh64', value: '0ea03b369a463d9d', manifest: '0001_card.mhl' }]);
  });
  it('grades it: CDL and look-up tables beside it, and collections in its folders that name it', () => {
    expect(named(scanned('card').originals, 'X2.mp4').grades).toEqual([
      { kind: 'unreadable', file: 'X2.cc', why: expect.stringContaining('out of range') },
      { kind: 'lut', file: 'X2.cube', title: 'warm', dimensions: 1, size: 2 },
      { kind: 'cdl', file: 'dailies.ccc', id: 'X2', cdl: expect.objectContaining({ saturation: 0.8 }) },
    ]);
    expect(named(scanned('card').originals, 'X1.mp4').grades).toEqual([]);
    expect(scanned('card').logs.map((f) => path.basename(f))).toEqual(['log.csv']);
  });
  it('that disagrees with the header is named, the header is taken', () => {
    const clip = named(scanned('card').originals, 'X2.mp4');
    expect([formatTimecode(clip.start, clip.rate), clip.reel]).toEqual(['10:00:00:00', 'Q043']);
    expect(clip.warnings).toMatchObject([
      { code: 'timecode-disagrees', message: expect.stringContaining('clip log log.csv says 11:00:00:00') },
    ]);
  });
});

describe('a second scan', () => {
  const stamps = (found: ReturnType<typeof scanned>) => new Map(found.originals.map((o) => [o.path, o.stamp]));
  it('opens only what changed: a clip, its sidecar, or the log that speaks of it', () => {
    const known = stamps(scanned('card'));
    expect(known.size).toBe(2);
    expect(scanned('card', known)).toMatchObject({ originals: [], unchanged: [...known.keys()] });
    put('card/media/X1M01.XML', '<Meta><StartTimecode>23:00:00:00</StartTimecode></Meta>');
    expect(scanned('card', known).originals.map((o) => o.fileName)).toEqual(['X1.mp4']);
    const log = path.join(folder, 'card', 'log.csv');
    utimesSync(log, new Date(), new Date(Date.now() + 5000));
    expect(scanned('card', known).originals).toHaveLength(2);
  });
  it('finds numbered frames changed when one of them is gone', () => {
    writeFrames(path.join(folder, 'again', 'S004'), 5);
    const known = stamps(scanned('again'));
    rmSync(path.join(folder, 'again', 'S004', 'S004.0001003.dpx'));
    expect(scanned('again', known).originals).toMatchObject([
      { frames: 5, gaps: [{ in: 2, out: 3 }], warnings: [{ code: 'frames-missing' }] },
    ]);
  });
  it('never follows a link that leads outside', () => {
    mkdirSync(path.join(folder, 'linked'));
    symlinkSync(path.join(folder, 'card'), path.join(folder, 'linked', 'out'));
    expect(scanned('linked').originals).toEqual([]);
  });
});

it('numbered frames without a rate of their own say so', () => {
  const run = ['a.0001.exr', 'a.0002.exr'];
  for (const name of run) put(`plain/${name}`, exr(8, 8, {}));
  expect(withWarnings(scanned('plain').originals)[0]?.warnings.map((w) => w.code)).toEqual(['rate-unknown', 'timecode-absent']);
});

it('numbered frames of an hour and more are numbered by their timecode where nothing else gives one (common practice)', () => {
  const run = (at: string, from: number, more: Parameters<typeof exr>[2]) => {
    for (const n of [from, from + 1]) put(`${at}/T.${n}.exr`, exr(8, 8, more));
    const [clip] = scanned(at).originals;
    return clip?.hasTimecode ? formatTimecode(clip.start, clip.rate) : null;
  };
  // 90 000 frames at 25 are an hour; 86 400 at 24.
  expect(run('counted/25', 90_037, { fps: [25, 1] })).toBe('01:00:01:12');
  expect(run('counted/24', 86_400, { fps: [24, 1] })).toBe('01:00:00:00');
  expect(run('counted/1001', 1001, { fps: [24, 1] })).toBeNull();
  expect(run('counted/rateless', 90_037, {})).toBeNull();
  expect(run('counted/told', 90_037, { fps: [25, 1], timecode: packedTimecode(2, 0, 0, 0, false) })).toBe('02:00:00:00');
});

it('a take over several files is read as one: frame 37 of two files of 25 is frame 12 of the second', () => {
  for (const part of [1, 2])
    writeClip(
      path.join(folder, 'span', `S_part${part}.mov`),
      { writer: 'long-gop', rate: RATES['25'], start: `01:00:0${part - 1}:00`, reel: 'S1', frames: 25 },
      (part - 1) * 25,
    );
  const [take, ...others] = joinSpans(scanned('span').originals);
  expect([take?.frames, others.length]).toEqual([50, 0]);
  for (const n of [37, 24, 25, 0, 49]) {
    const picture = take && grabPicture(take, n, 256, 144, null);
    expect(picture && numberIn(picture.pixels, picture.width, picture.height)).toBe(n);
  }
  closePictures();
});
