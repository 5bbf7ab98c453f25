import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { appendFileSync, mkdirSync, readFileSync, statSync, symlinkSync, truncateSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { formatRate, formatTimecode, type Original, RATES, wholePart } from '@gemello/core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closePictures, grabPicture, openThreads, probeMovie, readLuma, scan } from '../src';
import { CLIPS, footage, named, numberIn, RASTER, writeClip, writeFrames } from './footage';

const going = { aborted: false };
const scanned = (folder: string) => scan({ folders: [folder] }, () => {}, going);

let cards: ReturnType<typeof footage>;
let originals: Original[];
beforeAll(() => {
  cards = footage();
  ({ originals } = scanned(cards.folder));
});
afterAll(() => {
  closePictures();
  cards.end();
});

/** What the ffprobe program of Debian's package says of a file. */
function ffprobe(file: string) {
  const shown = execFileSync('ffprobe', [
    '-v',
    'error',
    '-count_packets',
    '-select_streams',
    'v:0',
    '-show_entries',
    'stream=nb_read_packets,avg_frame_rate,width,height,codec_name:stream_tags:format_tags',
    '-of',
    'json',
    file,
  ]);
  const { streams, format } = JSON.parse(shown.toString());
  return { ...streams[0], tags: { ...format.tags, ...streams[0].tags } };
}

it('threads begin with the files as they are written where none were built', async () => {
  const built = process.env.GEMELLO_THREADS;
  process.env.GEMELLO_THREADS = '';
  const threads = openThreads();
  try {
    const [first] = originals;
    expect(await threads.probe(first?.path as string)).toMatchObject({ frames: first?.frames, codec: first?.codec });
  } finally {
    process.env.GEMELLO_THREADS = built;
    await threads.close();
  }
});

describe('probing agrees with the ffprobe program', () => {
  it.each(CLIPS)('$name: frames, rate, raster, codec, timecode', ({ name }) => {
    const ours = named(originals, name);
    const theirs = ffprobe(ours.path);
    expect(ours.frames).toBe(Number(theirs.nb_read_packets));
    expect(`${ours.rate.num}/${ours.rate.den}`).toBe(theirs.avg_frame_rate);
    expect(ours.raster).toEqual({ width: theirs.width, height: theirs.height });
    expect(ours.codec).toBe(theirs.codec_name);
    expect(formatTimecode(ours.start, ours.rate)).toBe(theirs.tags.timecode);
  });
});

describe('a clip', () => {
  it.each(CLIPS)('$name carries what was written: start, reel, frames, both ways of counting', (clip) => {
    const found = named(originals, clip.name);
    expect(formatTimecode(found.start, found.rate)).toBe(clip.start);
    // MP4 has no place for a reel; its folder is called like one.
    expect([found.reel, found.frames, formatRate(found.rate)]).toEqual([clip.reel || 'D003', clip.frames, formatRate(clip.rate)]);
  });
  it('of numbered frames is one original with reel and timecode from its headers (SMPTE ST 268-1)', () => {
    const found = originals.find((o) => o.kind === 'frames');
    expect(found).toMatchObject({ clipName: 'S004', reel: 'S004', frames: 30, raster: RASTER, codec: 'dpx' });
    expect(found && formatTimecode(found.start, RATES['24'])).toBe('04:00:00:00');
  });
});

it('sound is told by its channels and sample rate, as the ffmpeg program wrote it', () => {
  const file = path.join(cards.folder, '..', 'sound.mov');
  const source = ['-f', 'lavfi', '-i', 'testsrc2=size=256x144:rate=24:duration=1', '-f', 'lavfi', '-i', 'anullsrc=r=48000:cl=5.1:d=1'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...source, '-c:v', 'mpeg4', '-c:a', 'pcm_s16le', '-shortest', file]);
  expect(probeMovie(file).sound).toEqual({ channels: 6, sampleRate: 48_000 });
  expect(named(originals, 'A001C001.mov').sound).toBeNull();
});

describe('exactly frame n', () => {
  const grab = (clip: Original, n: number) => {
    const picture = grabPicture(clip, n, RASTER.width, RASTER.height);
    return picture && numberIn(picture.pixels, picture.width, picture.height);
  };
  it.each([...CLIPS.map((c) => c.name), 'S004.0001001.dpx'])('%s: first, last, middle, and back and forth between them', (name) => {
    const clip = named(originals, name);
    const last = clip.frames - 1;
    const middle = last >> 1;
    for (const n of [0, last, middle, 1, last - 1, middle + 1, middle, 0, last]) expect(grab(clip, n)).toBe(n);
  });
  it('of long-GOP: every single one, in a scattered order', () => {
    const clip = named(originals, 'D003C001.mov');
    for (let i = 0; i < clip.frames; i++) {
      const n = (i * 61) % clip.frames;
      expect(grab(clip, n)).toBe(n);
    }
  });
  it('is null past either end', () => {
    const clip = named(originals, 'A001C001.mov');
    expect(grab(clip, clip.frames)).toBeNull();
    expect(grab(clip, 100_000)).toBeNull();
  });
  it('of a run of small pictures come in order, none left out', () => {
    const clip = named(originals, 'D003C002.mp4');
    const seen: number[] = [];
    readLuma(clip, { width: 96, height: 54 }, 30, 90, (_, n) => {
      seen.push(n);
      return undefined;
    });
    expect(seen).toEqual(Array.from({ length: 60 }, (_, i) => 30 + i));
  });
});

describe('a scan', () => {
  it('never changes a file', () => {
    const files = CLIPS.map((c) => path.join(cards.folder, c.name.slice(0, 4), c.name));
    const state = () => files.map((f) => [statSync(f).mtimeMs, createHash('sha256').update(readFileSync(f)).digest('hex')]);
    const before = state();
    scanned(cards.folder);
    expect(state()).toEqual(before);
  });
  it('names what it cannot read and goes on', () => {
    const other = footage();
    writeFileSync(path.join(other.folder, 'empty.mov'), '');
    writeFileSync(path.join(other.folder, 'text.mxf'), 'not a movie at all');
    const { originals: found, problems } = scanned(other.folder);
    expect(found).toHaveLength(CLIPS.length + 1);
    expect(problems.map((p) => path.basename(p.path)).sort()).toEqual(['empty.mov', 'text.mxf']);
    other.end();
  });
  it('does not follow links out of the folder', () => {
    const other = footage();
    mkdirSync(path.join(other.folder, 'volume'));
    symlinkSync(cards.folder, path.join(other.folder, 'volume', 'away'));
    expect(scanned(path.join(other.folder, 'volume')).originals).toEqual([]);
    other.end();
  });
  it('takes lone numbered pictures for stills, and lists the gaps of a run', async () => {
    const other = footage();
    const folder = path.join(other.folder, 'mixed');
    mkdirSync(folder);
    for (const n of ['0012', '0013'])
      await sharp({ create: { width: 32, height: 18, channels: 3, background: '#456' } })
        .png()
        .toFile(path.join(folder, `photo${n}.png`));
    const { originals: found } = scanned(folder);
    expect(found.map((o) => o.kind)).toEqual(['still', 'still']);
    const frames = path.join(other.folder, 'gappy');
    writeFrames(frames, 10);
    execFileSync('rm', [path.join(frames, 'S004.0001004.dpx')]);
    const run = scanned(frames).originals[0];
    expect(run).toMatchObject({ frames: 10, gaps: [{ in: 3, out: 4 }] });
    expect(run?.warnings).toMatchObject([{ code: 'frames-missing', message: expect.stringContaining('1004') }]);
    other.end();
  });
  it('counts the frames that a cut-off file still has', () => {
    const other = footage();
    const file = path.join(other.folder, 'B002', 'B002C001.mxf');
    truncateSync(file, Math.floor(statSync(file).size / 2));
    const found = scanned(path.join(other.folder, 'B002')).originals[0];
    expect(found?.frames).toBeGreaterThan(10);
    expect(found?.frames).toBeLessThan(30);
    other.end();
  });
  it('reads files with bytes added at their end', () => {
    const other = footage();
    const file = path.join(other.folder, 'D003', 'D003C001.mov');
    appendFileSync(file, Buffer.alloc(999, 7));
    expect(probeMovie(file).frames).toBe(130);
    other.end();
  });
});

describe('on threads', () => {
  it('the caller stays free while a scan runs, hears its progress and can stop it', async () => {
    const pool = openThreads();
    try {
      const heard: number[] = [];
      let turns = 0;
      const timer = setInterval(() => turns++, 2);
      const found: Original[] = [];
      await pool.scan({ folders: [cards.folder] }, (batch) => found.push(...batch), { report: (p) => heard.push(p.done) });
      clearInterval(timer);
      expect(found).toHaveLength(CLIPS.length + 1);
      expect(turns).toBeGreaterThan(3);
      expect(heard.at(-1)).toBe(CLIPS.length + 30); // files: five movies and a run of thirty frames

      const stop = new AbortController();
      stop.abort();
      await expect(pool.scan({ folders: [cards.folder] }, () => {}, { signal: stop.signal })).rejects.toMatchObject({ name: 'Stopped' });
      await expect(pool.probe('/nowhere.mov')).rejects.toMatchObject({ name: 'MediaError' });
    } finally {
      await pool.close();
    }
  });
  it('gives a picture as JPEG, layers mixed by their share', async () => {
    const pool = openThreads();
    try {
      const clip = named(originals, 'A001C001.mov');
      const black = { ...clip, path: path.join(cards.folder, 'black.mov') };
      writeClip(black.path, { writer: 'intra', rate: RATES['24'], start: '00:00:00:00', reel: 'X', frames: 1 }, 0);
      const cdl = { slope: [9, 9, 9] as const, offset: [1, 1, 1] as const, power: [1, 1, 1] as const, saturation: 1 };
      const join = { type: 'dissolve', duration: 3, before: 0, from: 'previous', wipeCode: null } as const;
      const mean = async (share: number) => {
        const leaving = { ...wholePart({ ...black, frames: 1 }, 0), side: 'leaving', join, share } as const;
        const incoming = { ...wholePart(clip, 4095 % clip.frames, cdl), side: 'incoming', join, share } as const;
        const composition = { parts: [leaving, incoming], frame: { raster: clip.raster, pixelAspect: 1 } };
        const { channels } = await sharp(await pool.draw({ composition, width: 192, height: 108 })).stats();
        return channels[0]?.mean ?? 0;
      };
      const [none, half, all] = [await mean(0), await mean(0.5), await mean(1)];
      expect(all).toBeGreaterThan(250);
      expect(half).toBeCloseTo((none + all) / 2, -1);
    } finally {
      await pool.close();
    }
  });
});
