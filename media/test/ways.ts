import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  applyDecisions,
  type Decision,
  formatTimecode,
  type Original,
  RATES,
  type ReturnAsked,
  readEdl,
  USUAL_RETURN,
} from '@gemello/core';
import { grabPicture, probeMovie, type ReturnPayload, scan, writeReturn } from '../src';
import { numberIn, RASTER, writeClip } from './footage';

const tc = (n: number) => formatTimecode(n, RATES['24']);
/** The count of the first frame of the original, 01:00:00:00. */
export const START = 24 * 3600;
const DAY = (n: number) => tc(START + n);

/** Natural from 20; twice as fast from 40; reverse over 60..84; half from 30; and one that shares what the first has. */
export const LIST = [
  'TITLE: WAYS',
  `001  A001  V  C  ${DAY(20)} ${DAY(44)} ${tc(0)} ${tc(24)}`,
  `002  A001  V  C  ${DAY(40)} ${DAY(64)} ${tc(24)} ${tc(36)}`,
  `M2   A001       048.0                ${DAY(40)}`,
  `003  A001  V  C  ${DAY(60)} ${DAY(84)} ${tc(36)} ${tc(60)}`,
  `M2   A001      -024.0                ${DAY(60)}`,
  `004  A001  V  C  ${DAY(30)} ${DAY(36)} ${tc(60)} ${tc(72)}`,
  `M2   A001       012.0                ${DAY(30)}`,
  `005  A001  V  C  ${DAY(50)} ${DAY(60)} ${tc(72)} ${tc(82)}`,
].join('\n');

export const numberAt = (of: Original | string, n: number) => {
  const picture = grabPicture(typeof of === 'string' ? probeMovie(of) : of, n, RASTER.width, RASTER.height);
  return picture && numberIn(picture.pixels, picture.width, picture.height);
};
export const keyOf = (number: number) => readEdl(LIST, { rate: RATES['24'] }).tracks[0]?.events[number - 1]?.key ?? '';

/** A return of a cut that uses one original in several ways; its frames carry their number. `sound`: files whose sound the original has. */
export function ways(sound: readonly string[] = []) {
  const folder = mkdtempSync(path.join(tmpdir(), 'gemello-clips-'));
  const clip = { writer: 'intra-8bit', rate: RATES['24'], frames: 150, reel: 'A001', start: '01:00:00:00' } as const;
  const file = path.join(folder, 'cards', 'A001C001.mov');
  writeClip(file, { ...clip, sound: sound.map((from) => ({ path: from, from: 0, to: 150 / 24 })) });
  const { originals } = scan({ folders: [path.join(folder, 'cards')] }, () => {}, { aborted: false });
  const [original] = originals as [Original];
  return {
    folder,
    original,
    end: () => rmSync(folder, { recursive: true, force: true }),
    write(name: string, asked: Partial<ReturnAsked>, more: Decision[] = [], beside: Partial<ReturnPayload> = {}) {
      const list = readEdl(LIST, { rate: RATES['24'] });
      const pairs = list.tracks
        .flatMap((t) => t.events)
        .map((e): Decision => ({ kind: 'pair', event: e.key, original: original.path, sourceStartFrame: e.source.in - START }));
      return writeReturn(
        {
          list: applyDecisions(list, [...pairs, ...more]).list,
          originals,
          folder: path.join(folder, name),
          asked: { ...USUAL_RETURN, handles: 6, ...asked },
          title: 'BACK',
          render: true,
          ...beside,
        },
        () => {},
        { aborted: false },
      );
    },
  };
}
