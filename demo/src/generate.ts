import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { loader } from '@gemello/media';
import { Piscina } from 'piscina';
import { interchange } from './interchange';
import { editList } from './list';
import { writePapers } from './papers';
import { type DemoPaths, demoPaths, isCurrent, stampFile, version } from './place';
import { CUT_LENGTH, TAKES } from './scenario';
import { writeGuideSound } from './sound';
import type { DemoJob } from './worker';

/**
 * Makes the demo below `root`, or leaves it as it is when it is there and current. `onProgress`
 * hears frames drawn and frames in all. Nothing outside `root` is touched.
 */
export async function generateDemo(root: string, onProgress: (done: number, total: number) => void): Promise<DemoPaths> {
  const paths = demoPaths(root);
  if (isCurrent(root)) return paths;
  for (const folder of ['media', 'proxies', 'turnover', 'unmounted', 'made.txt'])
    rmSync(path.join(root, folder), { recursive: true, force: true });
  for (const folder of [paths.media, paths.proxies, path.dirname(paths.list), paths.unmounted]) mkdirSync(folder, { recursive: true });
  writeFileSync(paths.list, editList());
  writeFileSync(paths.second, interchange());

  writeGuideSound(paths.guide);

  const jobs: DemoJob[] = [{ kind: 'reference', file: paths.reference, guide: paths.guide }];
  for (const take of [...TAKES].sort((a, b) => b.frames - a.frames))
    jobs.push({ kind: 'take', take, media: paths.media, proxies: paths.proxies });
  const total = CUT_LENGTH + TAKES.reduce((sum, t) => sum + t.frames, 0);
  const pool = new Piscina({
    filename: fileURLToPath(new URL('./worker.ts', import.meta.url)),
    execArgv: loader(),
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
  writeFileSync(stampFile(root), version());
  return paths;
}
