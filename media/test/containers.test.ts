import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { formatTimecode } from '@gemello/core';
import fc from 'fast-check';
import { afterAll, describe, expect, it } from 'vitest';
import { probeMovie, probeStill } from '../src';
import { withHead } from '../src/headers/file';
import { readMovieTimecodes } from '../src/headers/mov';
import { readMxfPackages } from '../src/headers/mxf';
import { exr, packedTimecode } from './headers';
import { scratch } from './scratch';

/** Every container of the trade, written by the ffmpeg program and read by us and by the other programs of Debian. */
const { at, end } = scratch();
afterAll(end);

const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
const pictures = (rate: string, size = '320x240', seconds = 1) => [
  '-f',
  'lavfi',
  '-i',
  `testsrc=size=${size}:rate=${rate}:duration=${seconds}`,
];
const made = (name: string, rate: string, ...args: string[]): string => {
  ffmpeg(...pictures(rate, args.includes('dnxhd') ? '1920x1080' : '320x240'), ...args, at(name));
  return at(name);
};
const ffprobe = (file: string) => {
  const shown = execFileSync('ffprobe', [
    ...['-v', 'error', '-count_packets', '-select_streams', 'v:0', '-show_entries'],
    'stream=nb_read_packets,avg_frame_rate,width,height,codec_name:stream_tags:format_tags',
    ...['-of', 'json', file],
  ]);
  const { streams, format } = JSON.parse(shown.toString());
  return { ...streams[0], tags: { ...format.tags, ...streams[0].tags } as Record<string, string> };
};
const containerTags = (file: string) =>
  execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'format_tags', '-of', 'json', file]).toString();
const mediainfo = (file: string): Record<string, string>[] =>
  JSON.parse(execFileSync('mediainfo', ['--Output=JSON', file]).toString()).media.track;
const exiftool = (file: string) => JSON.parse(execFileSync('exiftool', ['-json', '-n', file]).toString())[0];

const TIMED = [
  ['drop.mov', '30000/1001', '01:02:03;04', ['-c:v', 'mpeg2video']],
  ['nondrop.mov', '30000/1001', '01:02:03:04', ['-c:v', 'mpeg2video']],
  ['film.mp4', '24000/1001', '23:59:58:12', ['-c:v', 'libx264']],
  ['op1a.mxf', '25', '10:11:12:13', ['-c:v', 'mpeg2video']],
  ['drop.mxf', '30000/1001', '00:09:59;28', ['-c:v', 'mpeg2video']],
  ['atom.mxf', '25', '10:11:12:13', ['-c:v', 'dnxhd', '-b:v', '120M', '-pix_fmt', 'yuv422p', '-f', 'mxf_opatom']],
  ['film.mkv', '24', '02:00:00:00', ['-c:v', 'mpeg2video', '-metadata', 'timecode=02:00:00:00']],
  ['tape.avi', '25', '03:04:05:06', ['-c:v', 'mjpeg', '-metadata', 'timecode=03:04:05:06']],
] as const;

describe('timecode, rate, length, raster and codec agree with the ffprobe program', () => {
  it.each(TIMED)('in %s', (name, rate, timecode, args) => {
    const file = made(name, rate, '-timecode', timecode, ...args);
    const [ours, theirs] = [probeMovie(file), ffprobe(file)];
    expect(formatTimecode(ours.start, ours.rate)).toBe(timecode);
    const tag = Object.entries(theirs.tags).find(([k]) => k.toLowerCase() === 'timecode')?.[1];
    if (tag) expect(tag).toBe(timecode);
    expect([ours.frames, `${ours.rate.num}/${ours.rate.den}`, ours.codec]).toEqual([
      Number(theirs.nb_read_packets),
      theirs.avg_frame_rate,
      theirs.codec_name,
    ]);
    expect(ours.raster).toEqual({ width: theirs.width, height: theirs.height });
  });
  it('and with the mediainfo program, package by package and track by track', () => {
    for (const [name, rate, timecode, args] of TIMED.filter(([n]) => /mov|mxf/.test(n))) {
      const tracks = mediainfo(made(name, rate, '-timecode', timecode, ...args));
      const told = tracks.flatMap((t) => [t.TimeCode_FirstFrame, t.Delay_Original_Source && null]).filter(Boolean);
      expect([name, told.length > 0, new Set(told)]).toEqual([name, true, new Set([timecode])]);
    }
  });
});

describe('QuickTime', () => {
  const clip = () => made('plain.mov', '25', '-c:v', 'mjpeg', '-timecode', '01:00:00:00');
  /** Where a box of a type begins whose content starts so; the four bytes of its length come before its type. */
  const boxAt = (bytes: Buffer, type: string, from = 0) => bytes.indexOf(type, from, 'latin1') - 4;

  it('names the reel in the description of its timecode (QuickTime File Format)', () => {
    const file = at('reel.mov');
    ffmpeg('-i', clip(), '-c', 'copy', '-metadata:s:v', 'timecode=01:00:00:00', '-metadata:s:v', 'reel_name=A017', file);
    expect(withHead(file, readMovieTimecodes)).toMatchObject([{ reel: 'A017', label: '01:00:00:00', ofPicture: true }]);
    expect(probeMovie(file)).toMatchObject({ reel: 'A017' });
    expect(probeMovie(file).claims[0]).toMatchObject({ value: '01:00:00:00', origin: 'the timecode track', taken: true });
  });
  it('may begin its timecode inside its track: an edit that starts 50 frames in gives the fifty-first label', () => {
    const bytes = readFileSync(clip());
    // The timecode track's own edit list is the last one; media time stands 4 + 4 + 4 bytes after version and count.
    const last = bytes.lastIndexOf('elst', undefined, 'latin1');
    const track = bytes.lastIndexOf('trak', undefined, 'latin1');
    expect(last).toBeGreaterThan(track);
    const scale = bytes.readUInt32BE(boxAt(bytes, 'mdhd', track) + 8 + 12);
    bytes.writeInt32BE(2 * scale, last + 4 + 8 + 4);
    writeFileSync(at('inside.mov'), bytes);
    expect(withHead(at('inside.mov'), readMovieTimecodes)[0]?.label).toBe('01:00:02:00');
    expect(formatTimecode(probeMovie(at('inside.mov')).start, probeMovie(at('inside.mov')).rate)).toBe('01:00:02:00');
  });
  it('may show its first picture later than its timecode begins (an empty edit)', () => {
    const file = at('late.mov');
    ffmpeg('-itsoffset', '0.4', '-i', clip(), '-i', clip(), '-map', '0:v', '-map', '1:v', '-c', 'copy', '-timecode', '01:00:00:00', file);
    // 0.4 s are ten frames at 25.
    expect(withHead(file, readMovieTimecodes)[0]?.label).toBe('01:00:00:10');
  });
  it('may count its timecode at half the rate of its pictures: frame pairs (SMPTE ST 12-1)', () => {
    const bytes = readFileSync(made('fast.mov', '50', '-c:v', 'mjpeg', '-timecode', '01:00:00:10'));
    // The sample description of timecode: frame duration at 36, frames a second at 40, counted from its version.
    const description = bytes.lastIndexOf('stsd', undefined, 'latin1') + 4;
    bytes.writeUInt32BE(bytes.readUInt32BE(description + 36) * 2, description + 36);
    bytes[description + 40] = 25;
    writeFileSync(at('pairs.mov'), bytes);
    const found = probeMovie(at('pairs.mov'));
    // What was frame 180 010 at 50 is now label 180 010 at 25: two hours and ten frames.
    expect([formatTimecode(found.start, found.rate), found.claims[0]?.origin]).toEqual([
      '02:00:00:20',
      'the timecode track, which counts 25 a second',
    ]);
  });
  it('may begin its timecode anew within the file, which is said: only the first stretch counts', () => {
    const bytes = readFileSync(clip());
    // Sample sizes of the last track, which is the timecode: one size for all at 8, how many at 12, counted from the name of the box.
    const sizes = bytes.lastIndexOf('stsz', undefined, 'latin1');
    expect([bytes.readUInt32BE(sizes + 8), bytes.readUInt32BE(sizes + 12)]).toEqual([4, 1]);
    bytes.writeUInt32BE(3, sizes + 12);
    writeFileSync(at('breaks.mov'), bytes);
    const found = probeMovie(at('breaks.mov'));
    expect(formatTimecode(found.start, found.rate)).toBe('01:00:00:00');
    expect(found.warnings).toMatchObject([{ code: 'timecode-breaks', message: expect.stringContaining('begins anew 2 times') }]);
  });
  it('may hold several timecode tracks: that of the picture is taken, the others are kept', () => {
    const file = at('two.mov');
    const codes = ['-metadata:s:v:0', 'timecode=01:00:00:00', '-metadata:s:v:1', 'timecode=09:00:00:00'];
    ffmpeg(...pictures('25'), ...pictures('25'), '-map', '0', '-map', '1', '-c:v', 'mjpeg', ...codes, file);
    expect(withHead(file, readMovieTimecodes).map((t) => [t.label, t.ofPicture])).toEqual([
      ['01:00:00:00', true],
      ['09:00:00:00', false],
    ]);
    const found = probeMovie(file);
    expect(found.claims.filter((c) => c.field === 'timecode' || c.field === 'rate').map((c) => [c.value, c.origin, c.taken])).toEqual([
      ['01:00:00:00', 'timecode track 3', true],
      ['09:00:00:00', 'timecode track 4', false],
      ['25', 'the picture track', true],
    ]);
    expect(found.warnings.map((w) => w.code)).toEqual(['timecode-disagrees']);
  });
});

describe('MXF (SMPTE ST 377-1)', () => {
  const names = ['-metadata', 'reel_name=T001', '-metadata', 'material_package_name=Salt 1'];
  const clip = () => made('packages.mxf', '25', '-c:v', 'mpeg2video', '-timecode', '01:00:00:00', ...names);
  it('gives each package its name and its timecode', () => {
    expect(withHead(clip(), readMxfPackages).map((p) => [p.is, p.name, p.timecode?.label])).toEqual([
      ['material', 'Salt 1', '01:00:00:00'],
      ['file', '', '01:00:00:00'],
      ['tape', 'T001', '01:00:00:00'],
    ]);
    expect(probeMovie(clip())).toMatchObject({ reel: 'T001', clipName: 'Salt 1' });
  });
  it('whose packages disagree says so: the material package is taken', () => {
    const bytes = readFileSync(clip());
    // Local tag 0x1501, eight bytes: start timecode; the second and third in the file are those of the file and tape packages.
    const item = Buffer.from('15010008', 'hex');
    const second = bytes.indexOf(item, bytes.indexOf(item) + 4);
    const third = bytes.indexOf(item, second + 4);
    expect(third).toBeGreaterThan(second);
    bytes.writeBigInt64BE(18_000n * 25n, third + 4);
    writeFileSync(at('disagree.mxf'), bytes);
    const labels = withHead(at('disagree.mxf'), readMxfPackages).map((p) => p.timecode?.label);
    expect(labels.filter((l) => l === '05:00:00:00')).toHaveLength(1);
    const found = probeMovie(at('disagree.mxf'));
    expect(formatTimecode(found.start, found.rate)).toBe('01:00:00:00');
    expect(found.warnings).toMatchObject([{ code: 'timecode-disagrees', message: expect.stringContaining('05:00:00:00') }]);
  });
  it('may begin with a run-in of other bytes', () => {
    writeFileSync(at('run-in.mxf'), Buffer.concat([Buffer.alloc(1000, 7), readFileSync(clip())]));
    expect(withHead(at('run-in.mxf'), readMxfPackages)).toHaveLength(3);
  });
});

it('what wrote a file, and when, is said by its container, as ffprobe has it', () => {
  const file = made('told.mov', '25', '-c:v', 'mjpeg', '-metadata', 'creation_time=2026-04-12T05:41:12Z');
  const { tags } = ffprobe(file);
  const said = (field: string) => probeMovie(file).claims.find((c) => c.field === field)?.value;
  expect([said('created'), said('writtenBy')]).toEqual([tags.creation_time, JSON.parse(containerTags(file)).format.tags.encoder]);
});

it('what makers put into a container under names of their own is read by what they are called', () => {
  const file = made(
    'own.mov',
    '25',
    '-c:v',
    'mjpeg',
    '-movflags',
    'use_metadata_tags',
    '-metadata',
    'org.example.reelname=K042',
    '-metadata',
    'org.example.fps=120',
  );
  expect(probeMovie(file)).toMatchObject({ reel: 'K042', warnings: [] });
  expect(probeMovie(file).claims.find((c) => c.field === 'reel')).toMatchObject({ value: 'K042', origin: 'the container' });
});

describe('stills and single frames agree with iinfo, exiftool and exrheader', () => {
  it.each(['png', 'jpg', 'tif', 'dpx', 'exr'])('%s', (extension) => {
    const file = at(`still.${extension}`);
    ffmpeg(...pictures('1', '322x182'), '-frames:v', '1', ...(extension === 'exr' ? ['-pix_fmt', 'gbrpf32le'] : []), file);
    const found = probeStill(file);
    const [, width, height] = /: +(\d+) x +(\d+)/.exec(execFileSync('iinfo', [file]).toString()) ?? [];
    expect(found.raster).toEqual({ width: Number(width), height: Number(height) });
    const told = exiftool(file);
    expect([told.ImageWidth, told.ImageHeight]).toEqual([322, 182]);
  });
  it('an OpenEXR header with timecode, rate and reel', () => {
    const file = at('told.exr');
    writeFileSync(file, exr(64, 36, { timecode: packedTimecode(10, 22, 33, 7, true), fps: [30000, 1001], reel: 'A017' }));
    const told = execFileSync('exrheader', [file]).toString();
    expect(told).toContain('time 10:22:33:07');
    expect(told).toMatch(/drop frame +1/);
    expect(told).toContain('30000/1001');
    expect(told).toContain('A017');
  });
});

describe('the readers of QuickTime and MXF, given damaged files', () => {
  it('never throw, never hang', () => {
    const whole = [
      made('fuzz.mov', '25', '-c:v', 'mjpeg', '-timecode', '01:00:00:00'),
      made('fuzz.mxf', '25', '-c:v', 'mpeg2video', '-timecode', '01:00:00:00'),
    ];
    for (const source of whole) {
      const bytes = readFileSync(source);
      // Headers stand at the head of the one and at the tail of the other.
      const places = fc.oneof(
        fc.nat(Math.min(8000, bytes.length - 1)),
        fc.integer({ min: Math.max(0, bytes.length - 2000), max: bytes.length - 1 }),
      );
      fc.assert(
        fc.property(
          fc.array(fc.tuple(places, fc.nat(255)), { minLength: 1, maxLength: 12 }),
          fc.option(fc.nat(bytes.length)),
          (flips, cut) => {
            const damaged = Buffer.from(bytes.subarray(0, cut ?? bytes.length));
            for (const [place, value] of flips) if (place < damaged.length) damaged[place] = value;
            writeFileSync(at('damaged.bin'), damaged);
            return (
              Array.isArray(withHead(at('damaged.bin'), readMovieTimecodes)) && Array.isArray(withHead(at('damaged.bin'), readMxfPackages))
            );
          },
        ),
        { numRuns: 300 },
      );
    }
  });
});

describe('a rate that varies within the file', () => {
  const varied = (name: string, ...args: string[]) => {
    // Two pictures in three are dropped after the first second, and what is left keeps its times.
    ffmpeg(...pictures('30', '320x240', 4), '-vf', "select='lt(n,30)+not(mod(n,3))'", '-fps_mode', 'vfr', ...args, at(name));
    return at(name);
  };
  const rates = (file: string): [string, string] => {
    const shown = execFileSync('ffprobe', [
      '-v',
      'error',
      '-select_streams',
      'v:0',
      '-show_entries',
      'stream=avg_frame_rate,r_frame_rate',
      '-of',
      'json',
      file,
    ]);
    const [{ avg_frame_rate: average, r_frame_rate: base }] = JSON.parse(shown.toString()).streams;
    return [average, base];
  };
  it.each([
    ['varied.mp4', ['-c:v', 'libx264']],
    ['varied.mov', ['-c:v', 'mjpeg']],
  ] as const)('is flagged in %s, where ffprobe gives two rates that differ', (name, args) => {
    const file = varied(name, ...args);
    const [average, base] = rates(file);
    expect(average).not.toBe(base);
    const found = probeMovie(file);
    expect(found.warnings).toMatchObject([{ code: 'variable-rate', message: expect.stringContaining('Ask for a constant-rate copy.') }]);
    // 30 pictures of the first second, and every third of the ninety after it.
    expect([found.frames, Number(ffprobe(file).nb_read_packets)]).toEqual([60, 60]);
  });
  it.each(['24000/1001', '24', '25', '30000/1001', '30', '50', '60000/1001', '60'])('is not said of a file at %s throughout', (rate) => {
    for (const name of ['steady.mp4', 'steady.mov', 'steady.mxf', 'steady.mkv']) {
      // MXF holds the broadcast codecs; at 50 and more as frames of their own.
      const found = probeMovie(made(name, rate, '-c:v', name.endsWith('mxf') ? 'mpeg2video' : 'mjpeg'));
      expect([name, found.warnings.map((w) => w.code)]).toEqual([name, expect.not.arrayContaining(['variable-rate'])]);
      if (!name.endsWith('mkv')) expect(`${found.rate.num}/${found.rate.den}`).toBe(rate.includes('/') ? rate : `${rate}/1`);
    }
  });
});

describe('a file that is cut off', () => {
  const whole = () => readFileSync(made('whole.mov', '25', '-c:v', 'mjpeg', '-movflags', '+faststart', '-timecode', '01:00:00:00'));
  it('has the frames that are there, as ffprobe counts them; none is said so', () => {
    const bytes = whole();
    const from = bytes.indexOf('mdat', 0, 'latin1') + 4;
    for (const share of [0.9, 0.5, 0.1]) {
      writeFileSync(at('cut.mov'), bytes.subarray(0, from + Math.floor((bytes.length - from) * share)));
      const found = probeMovie(at('cut.mov'));
      expect(found.frames).toBe(Number(ffprobe(at('cut.mov')).nb_read_packets));
      expect(found.frames).toBeLessThan(25);
      expect(found.warnings).toMatchObject([
        { code: 'truncated', message: expect.stringMatching(/^The file is cut off: \d+ of 25 frames can be read/) },
      ]);
    }
    writeFileSync(at('bare.mov'), bytes.subarray(0, from));
    expect(probeMovie(at('bare.mov')).warnings.map((w) => w.code)).toContain('no-frames');
  });
});
