import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { RATES } from '@gemello/core';
import { scan } from '@gemello/media';
import { writeClip } from '../media/test/footage';
import { type Figure, inFolder, inTurn } from './measure';

const FILES = 400;

/** Scan of small real files, against one ffprobe process a file. */
export function scanning(): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const model = path.join(folder, 'model.mov');
    writeClip(model, { writer: 'intra-8bit', rate: RATES['24'], start: '01:00:00:00', reel: 'A001', frames: 8 });
    const card = path.join(folder, 'card');
    mkdirSync(card);
    for (let i = 0; i < FILES; i++) copyFileSync(model, path.join(card, `A001C${String(i).padStart(4, '0')}.mov`));
    const { ours, yardstick } = await inTurn(
      () => {
        const found = scan({ folders: [card] }, () => {}, { aborted: false }).originals.length;
        if (found !== FILES) throw new Error(`${found} of ${FILES} files were found`);
      },
      () => {
        for (const name of readdirSync(card))
          execFileSync('ffprobe', ['-v', 'error', '-show_streams', '-show_format', path.join(card, name)], { stdio: 'ignore' });
      },
      3,
    );
    return [
      {
        name: `scan of ${FILES} QuickTime files`,
        ours,
        yardstick,
        yardstickName: 'one ffprobe a file',
        note: `${Math.round(FILES / ours)} files/s`,
      },
    ];
  });
}
