import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { formatRate, formatTimecode, joinSpans, type Original, proxyRaster, RATES, takenAs, withCorrections } from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closePictures, grabPicture, makeProxies, type ProxiesPayload, probeMovie, scan } from '../src';
import { named, numberIn, writeClip, writeFrames } from './footage';
import { scratch } from './scratch';

const { folder, end } = scratch();
let originals: Original[];
const going = { aborted: false };
const card = () => path.join(folder, 'card');
const out = () => path.join(folder, 'job', 'proxies');
const silent = () => {};

/** A movie with sound, made by the ffmpeg program of Debian's package: test pictures, and a tone that begins after half a second. */
function withSound(name: string, ...codecs: string[]): void {
  const file = path.join(card(), 'snd', name);
  mkdirSync(path.dirname(file), { recursive: true });
  const source = ['-f', 'lavfi', '-i', 'testsrc=size=512x288:rate=25:duration=2', '-f', 'lavfi'];
  const tone = "aevalsrc='if(gte(t,0.5),sin(2*PI*440*t),0)|0.25*sin(2*PI*880*t):s=48000:d=2'";
  execFileSync('ffmpeg', ['-v', 'error', ...source, '-i', tone, ...codecs, '-timecode', '05:06:07:08', '-y', file]);
}

beforeAll(() => {
  const clip = (name: string, start: string, first = 0) =>
    writeClip(path.join(card(), 'A001', name), { writer: 'intra', rate: RATES['23.976'], start, reel: 'A001', frames: 30 }, first);
  clip('A001C001.mov', '01:00:00:00');
  clip('S_part1.mov', '02:00:00:00');
  clip('S_part2.mov', '02:00:01:06', 30);
  writeFrames(path.join(card(), 'S004'), 12);
  withSound('pcm.mov', '-c:v', 'mpeg2video', '-c:a', 'pcm_s24le');
  withSound('aac.mp4', '-c:v', 'libx264', '-c:a', 'aac');
  withSound('flac.mkv', '-c:v', 'mpeg2video', '-c:a', 'flac');
  originals = joinSpans(scan({ folders: [card()] }, silent, going).originals);
});
afterAll(() => {
  closePictures();
  end();
});

const made = (names: string[], more: Partial<ProxiesPayload> = {}) =>
  makeProxies(
    {
      clips: names.map((n) => ({ original: named(originals, n), into: path.relative(card(), path.dirname(named(originals, n).path)) })),
      folder: out(),
      codec: 'proxy-small',
      size: 'half',
      burnIn: false,
      ...more,
    },
    silent,
    going,
  );

/** Sound as the ffmpeg program decodes it: 16-bit samples of both channels. */
const samples = (file: string) =>
  new Int16Array(
    Uint8Array.from(execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-map', '0:a:0', '-f', 's16le', '-ar', '48000', '-'])).buffer,
  );

describe('a light copy that is made', () => {
  it.each(['proxy-small', 'proxy-8bit', 'proxy-10bit'] as const)('as %s keeps name, timecode, reel, rate and every frame', (codec) => {
    const result = made(['A001C001.mov'], { codec, size: '640' });
    expect(result.problems).toEqual([]);
    const [copy] = result.made;
    expect(copy?.copy).toBe(path.join(out(), 'A001', 'A001C001.mov'));
    const [theirs, ours] = [named(originals, 'A001C001.mov'), probeMovie(copy?.copy ?? '')];
    expect([ours.start, ours.reel, ours.frames, ours.rate]).toEqual([theirs.start, theirs.reel, theirs.frames, theirs.rate]);
    for (const n of [0, 7, 29]) {
      const picture = grabPicture(ours, n, 256, 144, null);
      expect(picture && numberIn(picture.pixels, 256, 144)).toBe(n);
    }
  });
  it('of numbered frames, and of a take over several files, is one movie of the whole length', () => {
    const result = made(['S004.0001001.dpx', 'S_part1.mov']);
    expect(result.problems).toEqual([]);
    const [frames, take] = result.made.map((m) => probeMovie(m.copy));
    expect([frames?.fileName, frames?.frames, take?.fileName, take?.frames]).toEqual(['S004.mov', 12, 'S_part1.mov', 60]);
    const picture = take && grabPicture(take, 45, 256, 144, null);
    expect(picture && numberIn(picture.pixels, 256, 144)).toBe(45);
  });
  it('of clips whose rate a person set has their labels: frames run at that rate, a movie by its own clock', () => {
    const asked = ['S004.0001001.dpx', 'pcm.mov'].map((n) => named(originals, n));
    const set = withCorrections(asked, [
      { kind: 'correct', original: asked[0]?.path ?? '', rate: '25' },
      { kind: 'correct', original: asked[1]?.path ?? '', rate: '24' },
    ]);
    const result = makeProxies(
      { clips: set.map((original) => ({ original, into: 'set' })), folder: out(), codec: 'proxy-small', size: 'half', burnIn: true },
      silent,
      going,
    );
    expect(result.problems).toEqual([]);
    const copies = result.made.map((m) => probeMovie(m.copy));
    expect(copies.map((c) => [formatTimecode(c.start, c.rate), formatRate(c.rate)])).toEqual([
      ['04:00:00:00', '25'],
      ['05:06:07:08', '25'],
    ]);
  });
  it('is known by a smaller raster and its folder; one of the same raster when it is said to be one', () => {
    const { original = '', copy = '' } = made(['A001C001.mov']).made[0] ?? {};
    const found = scan({ folders: [card(), out()] }, silent, going).originals;
    // The smallest copies are 256 pixels wide, which is all that these test pictures have.
    expect(takenAs(found).proxyOf.get(copy)).toBeUndefined();
    expect(takenAs(found, [{ kind: 'proxy', original: copy, of: original }]).proxyOf.get(copy)).toBe(original);
    const large = found.map((o) => (o.path === original ? { ...o, raster: { width: 1920, height: 1080 } } : o));
    expect(takenAs(large).proxyOf.get(copy)).toBe(original);
  });
  it('has the sound of its original, sample for sample', () => {
    const result = made(['pcm.mov', 'aac.mp4', 'flac.mkv']);
    expect(result.problems).toEqual([]);
    for (const { original, copy } of result.made) {
      const [theirs, ours] = [samples(original), samples(copy)];
      expect(Math.abs(theirs.length - ours.length)).toBeLessThanOrEqual(2 * 1024);
      const length = Math.min(theirs.length, ours.length) - 4096;
      let worst = 0;
      for (let i = 0; i < length; i++) worst = Math.max(worst, Math.abs((theirs[i] as number) - (ours[i] as number)));
      expect([path.basename(original), worst]).toEqual([path.basename(original), 0]);
    }
  });
  it('of a take over several files has the sound of them all, each in its place', () => {
    const second = { ...named(originals, 'pcm.mov'), path: named(originals, 'pcm.mov').path };
    const pieces = [second, second].map((o) => ({ path: o.path, frames: o.frames }));
    const take = { ...second, fileName: 'twice.mov', pieces, frames: 2 * second.frames };
    const result = makeProxies(
      { clips: [{ original: take, into: 'twice' }], folder: out(), codec: 'proxy-8bit', size: '640', burnIn: false },
      silent,
      going,
    );
    expect(result.problems).toEqual([]);
    const [once, twice] = [samples(second.path), samples(result.made[0]?.copy ?? '')];
    expect(twice.length).toBe(2 * once.length);
    // Two seconds of 25 frames at 48 kHz, two channels.
    expect(
      Math.max(
        ...[...once.keys()].filter((i) => i % 997 === 0).map((i) => Math.abs((once[i] as number) - (twice[once.length + i] as number))),
      ),
    ).toBe(0);
  });
  it('is not made again from the same, and is when something else is asked', () => {
    const first = made(['A001C001.mov']).made[0];
    expect(made(['A001C001.mov']).made[0]).toEqual({ ...first, reused: true });
    expect(made(['A001C001.mov'], { burnIn: true }).made[0]?.reused).toBe(false);
  });
  it('with a burn-in shows name and timecode at its foot, and nothing else differs', () => {
    const copy = made(['A001C001.mov'], { burnIn: true, codec: 'proxy-10bit', size: '960' }).made[0]?.copy ?? '';
    const plain = grabPicture(named(originals, 'A001C001.mov'), 3, 256, 144, null);
    const burnt = grabPicture(probeMovie(copy), 3, 256, 144, null);
    const rows = (from: number, to: number) => {
      let difference = 0;
      for (let i = from * 256 * 3; i < to * 256 * 3; i++)
        difference += Math.abs((plain?.pixels[i] as number) - (burnt?.pixels[i] as number));
      return difference / ((to - from) * 256 * 3);
    };
    expect(rows(0, 130)).toBeLessThan(4);
    expect(rows(134, 144)).toBeGreaterThan(20);
  });
  it('that cannot be made is named, the others are made; originals are left as they were', () => {
    const sums = () =>
      readdirSync(path.join(card(), 'A001')).map((f) =>
        createHash('md5')
          .update(readFileSync(path.join(card(), 'A001', f)))
          .digest('hex'),
      );
    const before = sums();
    const lost = { ...named(originals, 'A001C001.mov'), path: path.join(card(), 'A001', 'gone.mov'), fileName: 'gone.mov' };
    const result = makeProxies(
      {
        clips: [
          { original: lost, into: '../../outside' },
          { original: named(originals, 'A001C001.mov'), into: 'A001' },
        ],
        folder: out(),
        codec: 'proxy-small',
        size: 'quarter',
        burnIn: false,
      },
      silent,
      going,
    );
    expect([result.made.length, result.problems]).toEqual([1, [{ path: lost.path, message: expect.stringContaining('gone.mov') }]]);
    expect(existsSync(path.join(folder, 'outside'))).toBe(false);
    expect(sums()).toEqual(before);
  });
  it('that is stopped leaves no half of it behind', () => {
    const stop = { aborted: false };
    const payload = {
      clips: [{ original: named(originals, 'S_part1.mov'), into: 'stopped' }],
      folder: out(),
      codec: 'proxy-small',
      size: 'half',
      burnIn: false,
    } as const;
    expect(() =>
      makeProxies(
        payload,
        () => {
          stop.aborted = true;
        },
        stop,
      ),
    ).toThrow('Stopped');
    expect(readdirSync(path.join(out(), 'stopped'))).toEqual([]);
  });
  it('is sized by part or by width, with square pixels, and never larger than its original', () => {
    const of = (width: number, height: number, size: Parameters<typeof proxyRaster>[1], pixelAspect = 1) => {
      const r = proxyRaster({ raster: { width, height }, pixelAspect }, size);
      return `${r.width}x${r.height}`;
    };
    expect([of(3840, 2160, 'half'), of(4096, 2160, 'quarter'), of(1920, 1080, '1280'), of(640, 360, '960')]).toEqual([
      '1920x1080',
      '1024x540',
      '1280x720',
      '640x360',
    ]);
    // 1440 pixels that are 4:3 wide are shown as 1920 (high-definition tape formats; common practice).
    expect(of(1440, 1080, 'half', 4 / 3)).toBe('960x540');
    expect(statSync(out()).isDirectory()).toBe(true);
  });
});

it('proxies that the disk has no room for are not begun', () => {
  const endless = { ...named(originals, 'A001C001.mov'), frames: 1e12 };
  const folder = path.join(out(), 'none');
  expect(() => made([], { clips: [{ original: endless, into: '' }], folder })).toThrow(
    /^The proxies will take about .* GB, and the disk has/,
  );
  expect(readdirSync(folder)).toEqual([]);
});
