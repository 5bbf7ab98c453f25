import { execFileSync } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import {
  applyDecisions,
  type Decision,
  formatTimecode,
  LUMA_709,
  type Original,
  onEvent,
  RATES,
  readEdl,
  USUAL_RETURN,
} from '@gemello/core';
import { probeMovie, render, writeReturn } from '@gemello/media';
import { type Figure, inFolder, inTurn, seconds } from './measure';

const RATE = RATES['24'];
const [FRAMES, SHORT, CLIPS] = [240, 12, 24];
const CDL = { slope: [1.1, 1, 0.9], offset: [0.01, 0, -0.01], power: [1, 1.05, 1], saturation: 0.9 } as const;
/** What the CDL does, in the program's own terms: in 16 bits, as ours. */
const along = (c: 0 | 1 | 2) => `pow(clip(val/maxval*${CDL.slope[c]}+${CDL.offset[c]}\\,0\\,1)\\,${CDL.power[c]})*maxval`;
const { saturation } = CDL;
const weights = [0, 1, 2].flatMap((to) => LUMA_709.map((luma, from) => luma * (1 - saturation) + (from === to ? saturation : 0)));
const mixer = ['rr', 'rg', 'rb', 'gr', 'gg', 'gb', 'br', 'bg', 'bb'].map((name, i) => `${name}=${weights[i]}`).join(':');
const FILTER = `format=rgb48le,lutrgb=r=${along(0)}:g=${along(1)}:b=${along(2)},colorchannelmixer=${mixer},format=yuv422p10le`;
const tc = (n: number) => formatTimecode(n, RATE);
const quiet = () => {};
const going = { aborted: false };

/** Events of a length that follow each other in one clip. */
function cutOf(clip: Original, events: number, length: number, grade: boolean) {
  const lines = Array.from({ length: events }, (_, i) => {
    const from = clip.start + i * length;
    return `${String(i + 1).padStart(3, '0')}  A001  V  C  ${tc(from)} ${tc(from + length)} ${tc(i * length)} ${tc((i + 1) * length)}`;
  });
  const list = readEdl(['TITLE: BENCH', ...lines].join('\n'), { rate: RATE });
  const decisions = (list.tracks[0]?.events ?? []).flatMap((e, i): Decision[] => [
    { kind: 'pair', event: e.key, original: clip.path, sourceStartFrame: i * length },
    ...(grade ? [{ kind: 'grade' as const, scope: onEvent(e.key), cdl: CDL }] : []),
  ]);
  return applyDecisions(list, decisions).list;
}

/** Clips of a return and a whole conform, against the ffmpeg program that decodes, filters and encodes the same with the same encoder. */
export function returns(): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const file = path.join(folder, 'cards', 'A001C001.mov');
    mkdirSync(path.dirname(file));
    const source = ['-f', 'lavfi', '-i', 'testsrc2=size=1920x1080:rate=24', '-frames:v', String(SHORT * CLIPS), '-pix_fmt', 'yuv422p10le'];
    const tags = ['-timecode', '01:00:00:00', '-metadata:s:v', 'reel_name=A001'];
    execFileSync('ffmpeg', ['-v', 'error', ...source, '-c:v', 'prores', '-profile:v', '2', ...tags, file]);
    const clip = probeMovie(file);
    const encode = ['-c:v', 'prores', '-profile:v', '3', '-pix_fmt', 'yuv422p10le', '-threads', '2'];
    const program = (out: string, from: number, frames: number, filter: readonly string[] = []) =>
      execFileSync('ffmpeg', [
        ...['-v', 'error', '-y', '-threads', '2', '-ss', String(from / 24), '-i', file, '-map', '0:v', '-frames:v', String(frames)],
        ...filter,
        ...encode,
        path.join(folder, out),
      ]);
    const asked = { ...USUAL_RETURN, handles: 0 };
    const out = path.join(folder, 'back');
    /** Writes into the folder as it is: what was rendered there before is only looked at again. */
    const again = (events: number, length: number, grade: boolean) => {
      const list = cutOf(clip, events, length, grade);
      const { problems } = writeReturn({ list, originals: [clip], folder: out, title: 'BACK', asked, render: true }, quiet, going);
      if (problems.length > 0) throw new Error(problems[0]?.message);
    };
    const written = (events: number, length: number, grade: boolean) => {
      rmSync(out, { recursive: true, force: true });
      again(events, length, grade);
    };
    const figures: Figure[] = [];
    const add = async (name: string, frames: number, asks: string, ours: () => void, theirs: () => void, once?: () => void) => {
      const { ours: own, yardstick } = await inTurn(ours, theirs, 3);
      const beside = once ? await seconds(once) : 0;
      const alone = beside > 0 ? `; rendering alone ${(yardstick / (own - beside)).toFixed(2)}` : '';
      figures.push({
        name,
        ours: own,
        yardstick,
        yardstickName: 'the ffmpeg program',
        note: `${Math.round(frames / own)} frames/s; asked ${asks}; lists, checksum, and the check of what was written are in ours${alone}`,
      });
    };
    await add(
      'one shot of 1080p, as it is',
      FRAMES,
      '0.9',
      () => written(1, FRAMES, false),
      () => program('one.mov', 0, FRAMES),
      () => again(1, FRAMES, false),
    );
    await add(
      'one shot of 1080p, graded',
      FRAMES,
      '0.9',
      () => written(1, FRAMES, true),
      () => program('one.mov', 0, FRAMES, ['-vf', FILTER]),
      () => again(1, FRAMES, true),
    );
    await add(
      `${CLIPS} shots of ${SHORT} frames`,
      CLIPS * SHORT,
      '0.8',
      () => written(CLIPS, SHORT, false),
      () => {
        for (let i = 0; i < CLIPS; i++) program(`short-${i}.mov`, i * SHORT, SHORT);
      },
    );
    const conform = cutOf(clip, CLIPS, SHORT, false);
    const movie = { codec: 'intra', size: null, burnIn: false, sound: null } as const;
    await add(
      `a conform of ${CLIPS} shots as one movie`,
      CLIPS * SHORT,
      '0.7',
      () => {
        render({ list: conform, originals: [clip], file: path.join(folder, 'whole.mov'), ...movie }, quiet, going);
      },
      () => program('whole-theirs.mov', 0, CLIPS * SHORT),
    );
    return figures;
  });
}
