import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  applyDecisions,
  type Decision,
  formatTimecode,
  NEUTRAL_CDL,
  type Original,
  onEvent,
  RATES,
  type Raster,
  type ReturnAsked,
  readEdl,
  USUAL_RETURN,
} from '@gemello/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { probeMovie, writeReturn } from '../src';

/** A shot with an alpha, written by the ffmpeg program: orange over the left half, nothing over the right, but with a green that is not to be seen. */
const [WIDTH, HEIGHT] = [256, 144];
const tc = (n: number) => formatTimecode(n, RATES['24']);
let folder: string;
let original: Original;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-alpha-'));
  mkdirSync(path.join(folder, 'cards'));
  const file = path.join(folder, 'cards', 'G001C001.mov');
  const colour = "geq=r='if(lt(X,W/2),200,0)':g='if(lt(X,W/2),100,220)':b='20':a='if(lt(X,W/2),255,0)'";
  const source = `color=black:s=${WIDTH}x${HEIGHT}:r=24:d=1,format=rgba,${colour}`;
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', source, '-c:v', 'qtrle', '-timecode', tc(3600 * 24), file]);
  original = probeMovie(file);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function returned(
  name: string,
  change: Partial<ReturnAsked>,
  decided: (key: string) => Decision[] = () => [],
  below = '',
  raster?: Raster,
) {
  const list = readEdl(`TITLE: ALPHA\n001  G001  V  C  ${tc(3600 * 24 + 6)} ${tc(3600 * 24 + 18)} ${tc(0)} ${tc(12)}\n${below}\n`, {
    rate: RATES['24'],
    ...(raster && { raster }),
  });
  const key = list.tracks[0]?.events[0]?.key ?? '';
  const pair: Decision = { kind: 'pair', event: key, original: original.path, sourceStartFrame: 6 };
  const standing = applyDecisions(list, [pair, ...decided(key)]).list;
  const asked = { ...USUAL_RETURN, handles: 2, ...change };
  const out = { list: standing, originals: [original], folder: path.join(folder, name), title: 'BACK', asked, render: true };
  const { clips, problems } = writeReturn(out, () => {}, { aborted: false });
  const [clip] = clips;
  if (!clip) throw new Error('the return has a clip');
  const file = clip.path;
  /** R, G, B, A of a pixel of a frame, by the ffmpeg program. */
  const at = (x: number, frame = 3, { width, height }: Raster = { width: WIDTH, height: HEIGHT }): number[] => {
    const raw = ['-f', 'rawvideo', '-pix_fmt', 'rgba', '-'];
    const bytes = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-vf', `select=eq(n\\,${frame})`, '-frames:v', '1', ...raw]);
    const from = ((height >> 1) * width + x) * 4;
    return [...bytes.subarray(from, from + 4)];
  };
  return {
    problems: problems.map((p) => p.message),
    at,
    format: () =>
      execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'stream=pix_fmt,width,height', '-of', 'csv=p=0', file], {
        encoding: 'utf8',
      }).trim(),
  };
}

const REVERSE = `M2   G001       -024.0                ${tc(3600 * 24 + 17)}`;
const near = (found: readonly number[], wanted: readonly number[]) => found.every((v, i) => Math.abs(v - (wanted[i] as number)) <= 4);

describe('an alpha', () => {
  it('goes along in clips of the ProRes class, graded or not, read by the ffmpeg program', () => {
    const plain = returned('plain', {});
    expect(plain.problems).toEqual([]);
    expect(plain.format()).toMatch(/,yuva444p/);
    expect(near(plain.at(64), [200, 100, 20, 255])).toBe(true);
    expect(plain.at(192)[3]).toBe(0);
    const graded = returned('graded', {}, (key) => [
      { kind: 'grade', scope: onEvent(key), cdl: { ...NEUTRAL_CDL, slope: [0.5, 0.5, 0.5] } },
    ]);
    expect(graded.problems).toEqual([]);
    expect(near(graded.at(64), [100, 50, 10, 255])).toBe(true);
    expect(graded.at(192)[3]).toBe(0);
  });
  it('goes along where the speed is baked, too', () => {
    const { problems, at } = returned('speed', { speed: 'baked' }, () => [], REVERSE);
    expect(problems).toEqual([]);
    expect(near(at(64), [200, 100, 20, 255])).toBe(true);
    expect(at(192)[3]).toBe(0);
  });
  it('that a codec cannot keep is said, and its pictures lie over black: what was hidden stays so', () => {
    for (const codec of ['intra-vc3', 'review'] as const) {
      const { problems, at } = returned(codec, { codec });
      expect(problems).toEqual([expect.stringMatching(/^has no alpha, and its original has one/)]);
      expect(near(at(64), [200, 100, 20, 255]), codec).toBe(true);
      expect(near(at(192), [0, 0, 0, 255]), codec).toBe(true);
      // The compositor, too, has each of its frames so, the first one as the others.
      const back = returned(`${codec}-back`, { codec, speed: 'baked' }, () => [], REVERSE);
      for (const frame of [0, 5]) expect(near(back.at(192, frame), [0, 0, 0, 255]), `${codec} ${frame}`).toBe(true);
    }
  });
});

describe('a clip that is to be no larger than the cut', () => {
  const returnedAt = (raster: { width: number; height: number }, name: string) =>
    returned(
      name,
      { clipRaster: 'cut' },
      (key) => [{ kind: 'grade', scope: onEvent(key), cdl: { ...NEUTRAL_CDL, slope: [0.5, 0.5, 0.5] } }],
      '',
      raster,
    );
  it('is made smaller in its own shape, whole and graded, and is as it is where the cut is larger', () => {
    const half = returnedAt({ width: 128, height: 72 }, 'half');
    expect([half.problems, half.format()]).toEqual([[], expect.stringMatching(/^128,72,/)]);
    expect(near(half.at(32, 3, { width: 128, height: 72 }), [100, 50, 10, 255])).toBe(true);
    // A cut of another shape: as wide as fits.
    expect(returnedAt({ width: 128, height: 96 }, 'tall').format()).toMatch(/^128,72,/);
    const large = returnedAt({ width: 1920, height: 1080 }, 'large');
    expect([large.problems, large.format()]).toEqual([[], expect.stringMatching(/^256,144,/)]);
  });
});

it('a LUT goes along as a file under the name of the clip, drawn in or not, and one that is gone is told', () => {
  const file = path.join(folder, 'look.cube');
  const text = 'LUT_1D_SIZE 2\n0 0 0\n0.5 0.5 0.5\n';
  writeFileSync(file, text);
  const through = (key: string): Decision[] => [{ kind: 'lut', scope: onEvent(key), lut: file }];
  const baked = returned('through', {}, through);
  expect([baked.problems, near(baked.at(64), [100, 50, 10, 255])]).toEqual([[], true]);
  expect(readFileSync(path.join(folder, 'through', 'BACK-lut', 'G001C001.cube'), 'utf8')).toBe(text);
  const beside = returned('untouched', { grade: 'beside' }, through);
  expect([beside.problems, near(beside.at(64), [200, 100, 20, 255])]).toEqual([[], true]);
  expect(readFileSync(path.join(folder, 'untouched', 'BACK-lut', 'G001C001.cube'), 'utf8')).toBe(text);
  rmSync(file);
  expect(returned('gone', { grade: 'beside' }, through).problems).toEqual([`was not written: the LUT ${file} is not here`]);
});
