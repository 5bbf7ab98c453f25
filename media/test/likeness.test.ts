import { execFileSync } from 'node:child_process';
import { agreement, comparable, wholeMask } from '@gemello/core';
import { afterAll, describe, expect, it } from 'vitest';
import { probeMovie, readLuma } from '../src';
import { scratch } from './scratch';

/** What the proof compares, held against FFmpeg's own measures of likeness (filters ssim and psnr) on the same pictures. */
const { at, end } = scratch();
afterAll(end);
const [FRAMES, FROM, LENGTH] = [60, 20, 16];

const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { encoding: 'utf8' });
ffmpeg(
  '-f',
  'lavfi',
  '-i',
  'mandelbrot=s=480x270:r=24:start_scale=0.6:end_scale=0.02',
  '-frames:v',
  String(FRAMES),
  '-c:v',
  'ffv1',
  at('source.mkv'),
);
// A reference as they come: small, compressed, darker.
const cut = `trim=start_frame=${FROM}:end_frame=${FROM + LENGTH},setpts=PTS-STARTPTS,scale=240:136,eq=brightness=-0.06:contrast=0.85`;
ffmpeg('-i', at('source.mkv'), '-vf', cut, '-c:v', 'libx264', '-crf', '30', '-pix_fmt', 'yuv420p', at('reference.mp4'));

/** Mean over the frames of one of FFmpeg's measures, the source slipped by so many frames. */
function measured(filter: 'ssim' | 'psnr', slip: number): number {
  const graph = `[0]scale=480:270,format=gray[r];[1]trim=start_frame=${FROM + slip}:end_frame=${FROM + slip + LENGTH},setpts=PTS-STARTPTS,format=gray[s];[r][s]${filter}=stats_file=-`;
  const lines = ffmpeg('-i', at('reference.mp4'), '-i', at('source.mkv'), '-lavfi', graph, '-f', 'null', '-');
  const values = [...lines.matchAll(filter === 'ssim' ? / All:([\d.]+)/g : /psnr_avg:([\d.]+)/g)].map(([, v]) => Number(v));
  expect(values).toHaveLength(LENGTH);
  return values.reduce((a, b) => a + b, 0) / values.length;
}

const pictures = (file: string) => {
  const out: Uint8Array[] = [];
  const clip = probeMovie(file);
  readLuma(clip, { width: 96, height: 54 }, 0, clip.frames, (luma) => {
    out.push(luma.slice());
    return undefined;
  });
  return out.map((luma) => comparable(luma, wholeMask()));
};

describe('agreement', () => {
  const [source, reference] = [pictures(at('source.mkv')), pictures(at('reference.mp4'))];
  const agreed = (slip: number) =>
    reference.reduce((sum, r, k) => sum + agreement(r, source[FROM + slip + k] as Float32Array), 0) / reference.length;
  const slips = [-6, -3, -2, -1, 0, 1, 2, 3, 6];
  const ours = slips.map(agreed);
  it.each(['ssim', 'psnr'] as const)('is highest at the frames at which FFmpeg finds %s highest, and falls as that falls', (filter) => {
    const theirs = slips.map((slip) => measured(filter, slip));
    const best = (values: readonly number[]) => slips[values.indexOf(Math.max(...values))];
    expect([best(ours), best(theirs)]).toEqual([0, 0]);
    // Of any two slips on one side, the nearer is the more alike in both.
    for (let i = 4; i < slips.length - 1; i++) {
      expect((ours[i] as number) > (ours[i + 1] as number)).toBe(true);
      expect((theirs[i] as number) > (theirs[i + 1] as number)).toBe(true);
    }
  });
});
