import { mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { portableName, sameFile } from '@gemello/core';
import { jobFolder } from './config';

/** Which return each folder below a job's returns belongs to. */
const NAMES = 'names.json';

/**
 * The folder of a return: one for each title, and for lists alone another than for clips, so that none replaces what another wrote. The
 * same return goes on in its folder.
 */
export function folderOfReturn(jobId: string, title: string, render: boolean): Promise<string> {
  const turn = line.then(() => chosen(jobId, title, render));
  line = turn.catch(() => {});
  return turn;
}

/** One after the other: two returns that begin at once must not be given one folder. */
let line: Promise<unknown> = Promise.resolve();

async function chosen(jobId: string, title: string, render: boolean): Promise<string> {
  const returns = jobFolder(jobId, 'returns');
  await mkdir(returns, { recursive: true });
  const file = path.join(returns, NAMES);
  const names = await readFile(file, 'utf8').then(
    (text): Record<string, string> => JSON.parse(text),
    (): Record<string, string> => ({}),
  );
  const owner = `${render ? 'clips' : 'list'} ${title}`;
  const known = names[owner];
  if (known) return path.join(returns, known);
  // A folder that nobody is known to own holds what an earlier version wrote: that is not replaced either.
  const there = [...Object.values(names), ...(await readdir(returns))];
  const stem = portableName(render ? title : `${title}_list`);
  let name = stem;
  for (let n = 2; there.some((taken) => sameFile(taken, name)); n++) name = `${stem}-${n}`;
  await writeFile(`${file}.part`, JSON.stringify({ ...names, [owner]: name }, null, 1));
  await rename(`${file}.part`, file);
  return path.join(returns, name);
}
