import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { TSX } from '@gemello/media';
import { Piscina } from 'piscina';
import { interchange } from './interchange';
import { editList } from './list';
import { writePapers } from './papers';
import { CUT_LENGTH, TAKES } from './scenario';
import type { DemoJob } from './worker';

/** Where the demo's files lie. */
export interface DemoPaths {
  readonly root: string;
  /** Camera originals, one folder a volume. */
  readonly media: string;
  readonly proxies: string;
  readonly list: string;
  /** The same cut exported a second time, as interchange XML. */
  readonly second: string;
  readonly reference: string;
  /** A volume that is not mounted yet: move its folder into `media` to mount it. */
  readonly unmounted: string;
}

export function demoPaths(root: string): DemoPaths {
  const turnover = path.join(root, 'turnover');
  return {
    root,
    media: path.join(root, 'media'),
    proxies: path.join(root, 'proxies'),
    list: path.join(turnover, 'salt_year_v04.edl'),
    second: path.join(turnover, 'salt_year_v04.xml'),
    reference: path.join(turnover, 'salt_year_v04_ref.mp4'),
    unmounted: path.join(root, 'unmounted'),
  };
}

/** Changes whenever the code that draws or writes the demo does. */
function version(): string {
  const hash = createHash('sha256');
  const here = path.dirname(fileURLToPath(import.meta.url));
  const engine = path.dirname(fileURLToPath(import.meta.resolve('@gemello/media/engine')));
  for (const folder of [here, path.join(here, 'scenes'), engine])
    for (const name of readdirSync(folder).sort()) if (name.endsWith('.ts')) hash.update(readFileSync(path.join(folder, name)));
  return hash.digest('hex').slice(0, 16);
}

/**
 * Makes the demo below `root`, or leaves it as it is when it is there and current. `onProgress`
 * hears frames drawn and frames in all. Nothing outside `root` is touched.
 */
export async function generateDemo(root: string, onProgress: (done: number, total: number) => void): Promise<DemoPaths> {
  const paths = demoPaths(root);
  const stamp = path.join(root, 'made.txt');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === version()) return paths;
  for (const folder of ['media', 'proxies', 'turnover', 'unmounted', 'made.txt'])
    rmSync(path.join(root, folder), { recursive: true, force: true });
  for (const folder of [paths.media, paths.proxies, path.dirname(paths.list), paths.unmounted]) mkdirSync(folder, { recursive: true });
  writeFileSync(paths.list, editList());
  writeFileSync(paths.second, interchange());

  const jobs: DemoJob[] = [{ kind: 'reference', file: paths.reference }];
  for (const take of [...TAKES].sort((a, b) => b.frames - a.frames))
    jobs.push({ kind: 'take', take, media: paths.media, proxies: paths.proxies });
  const total = CUT_LENGTH + TAKES.reduce((sum, t) => sum + t.frames, 0);
  const pool = new Piscina({
    filename: fileURLToPath(new URL('./worker.ts', import.meta.url)),
    execArgv: ['--import', TSX],
  });
  let done = 0;
  try {
    await Promise.all(
      jobs.map(async (job) => {
        const { port1, port2 } = new MessageChannel();
        port1.on('message', () => onProgress(++done, total));
        await pool.run({ job, port: port2 }, { transferList: [port2] });
        port1.close();
      }),
    );
  } finally {
    await pool.destroy();
  }
  writePapers(paths.media);
  renameSync(path.join(paths.media, 'SALT_03'), path.join(paths.unmounted, 'SALT_03'));
  writeFileSync(stamp, version());
  return paths;
}
