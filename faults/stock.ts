import { existsSync, mkdirSync, renameSync } from 'node:fs';
import path from 'node:path';
import { formatTimecode, type Original, RATES } from '@gemello/core';
import { probeMovie } from '@gemello/media';
import { writePlates } from './plates';
import type { Take } from './sources';

/** Originals on disk, made once. */
export interface Stock {
  readonly takes: readonly Take[];
  readonly originals: readonly Original[];
}

export async function stockOf(takes: readonly Take[], folder: string): Promise<Stock> {
  mkdirSync(folder, { recursive: true });
  const originals: Original[] = [];
  for (const [i, take] of takes.entries()) {
    const file = path.join(folder, `${take.name}.mov`);
    if (!existsSync(file)) {
      await writePlates(
        `${file}.part.mov`,
        take.plates,
        ['-c:v', 'mjpeg', '-q:v', '3', '-pix_fmt', 'yuvj420p'],
        formatTimecode(86_400 * (i + 1), RATES['24']),
      );
      renameSync(`${file}.part.mov`, file);
    }
    originals.push(probeMovie(file));
  }
  return { takes, originals };
}
