import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { DEGRADATIONS, type Degradation } from './degrade';
import { GROUPS, type Group, takesOf } from './sources';
import { type Stock, stockOf } from './stock';

/** Where the laboratory keeps what it makes, and finds its pictures (`scripts/needs.mjs` installs them). */
export const FOLDER = path.resolve('.data', 'faults');
const MOVIES = process.env.MOVIES ?? '/usr/share/doc/opencv-doc/examples/data';
const PHOTOGRAPHS = process.env.PHOTOGRAPHS ?? path.resolve('.venv', 'photographs', 'skimage', 'data');

/** The clips of a group, made once and kept. */
export function stockOfGroup(group: Group): Promise<Stock> {
  mkdirSync(FOLDER, { recursive: true });
  return stockOf(takesOf(group, MOVIES, PHOTOGRAPHS, FOLDER), path.join(FOLDER, 'originals'));
}

/** What a run was asked for: states, seeds and a count, parted by commas; `--calibrate` or `--report` for some of the sources, `-v` for every miss. */
export function asked(most = 60) {
  const [hows, seeds, count] = process.argv.slice(2);
  return {
    hows: (hows?.split(',') ?? DEGRADATIONS) as Degradation[],
    seeds: (seeds ?? '1').split(',').map(Number),
    count: Number(count ?? most),
    group: GROUPS.find((g) => process.argv.includes(`--${g}`)) ?? 'all',
    verbose: process.argv.includes('-v'),
  };
}
