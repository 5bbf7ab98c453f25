import { execFileSync } from 'node:child_process';
import { marksAt, USUAL_THRESHOLD } from '@gemello/core';
import { afterAll, describe, expect, it } from 'vitest';
import { findCuts, probeMovie } from '../src';
import { scratch } from './scratch';

/** Movies that the ffmpeg program makes of its own test pictures, so that where they are cut is known from outside. */
const { at, end } = scratch();
afterAll(end);
const going = { aborted: false };
const silent = () => {};
const SOURCES = ['mandelbrot=s=320x180:r=24', 'testsrc2=s=320x180:r=24', 'smptehdbars=s=320x180:r=24', 'gradients=s=320x180:r=24:seed=7'];

function made(name: string, filter: string): string {
  const file = at(name);
  const inputs = SOURCES.flatMap((source) => ['-f', 'lavfi', '-t', '2', '-i', source]);
  const coding = ['-r', '24', '-c:v', 'libx264', '-crf', '20', '-pix_fmt', 'yuv420p'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...inputs, '-filter_complex', filter, ...coding, file]);
  return file;
}
const found = (file: string) =>
  marksAt(findCuts({ movie: probeMovie(file), cache: null }, silent, going), USUAL_THRESHOLD).map(({ kind, frame, frames }) => ({
    kind,
    frame,
    frames,
  }));

describe('the cut finder', () => {
  it('finds the cuts that FFmpeg finds in the same movie (filter scdet), to the frame', () => {
    const file = made('joined.mp4', '[0][1][2][3]concat=n=4:v=1');
    const detected = execFileSync(
      'ffmpeg',
      ['-v', 'error', '-i', file, '-vf', 'scdet=t=8,metadata=print:key=lavfi.scd.time:file=-', '-f', 'null', '-'],
      {
        encoding: 'utf8',
      },
    );
    const theirs = [...detected.matchAll(/scd\.time=([\d.]+)/g)].map(([, time]) => Math.round(Number(time) * 24));
    expect(theirs).toEqual([48, 96, 144]);
    expect(found(file)).toEqual(theirs.map((frame) => ({ kind: 'cut', frame, frames: 0 })));
  });
  it('finds where FFmpeg fades to black and out of it (filter fade)', () => {
    const file = made('faded.mp4', '[0]fade=out:st=1.5:d=0.5[a];[1]fade=in:st=0:d=0.5[b];[a][b]concat=n=2:v=1');
    const [out, into, ...more] = found(file);
    expect(more).toEqual([]);
    expect([out?.kind, into?.kind]).toEqual(['fade-out', 'fade-in']);
    expect(Math.abs((out?.frame ?? 0) - 36)).toBeLessThanOrEqual(1);
    expect(Math.abs((into?.frame ?? 0) + (into?.frames ?? 0) - 60)).toBeLessThanOrEqual(2);
  });
  it('finds a dissolve that FFmpeg makes (filter xfade), and nothing beside it', () => {
    const file = made('dissolved.mp4', '[1][2]xfade=transition=fade:duration=0.5:offset=1.5');
    const [one, ...more] = found(file);
    expect(more).toEqual([]);
    expect(one?.kind).toBe('dissolve');
    expect(Math.abs((one?.frame ?? 0) - 36)).toBeLessThanOrEqual(2);
    expect(Math.abs((one?.frames ?? 0) - 11)).toBeLessThanOrEqual(2);
  });
});
