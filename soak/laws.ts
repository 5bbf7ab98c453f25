import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { HALF, probeMovie } from '@gemello/media';
import { createClient } from '@libsql/client';
import { LENGTH, sumsOf, untilIdle, type World } from './world';

/** Halves are gone so long after, in milliseconds: the server asks a disk again after five seconds. */
const TIDIED = 8000;

/** What must hold after every fault, each with what fell of it. Asked while the server is up; work that was going on goes on by itself. */
export async function fallen(world: World): Promise<string[]> {
  const { server, job, data, cards, originals, acknowledged, returns } = world;
  const fell: string[] = [];
  if (!(await untilIdle(server, job))) fell.push('work that was going on did not end');
  const answer = await server.ask('GET', `/api/jobs/${job}/activity`);
  if (answer?.status !== 200) return [...fell, `the job cannot be looked at: ${JSON.stringify(answer)}`];
  const said = JSON.stringify(answer.said);
  for (const note of acknowledged)
    if (!said.includes(`${note}"`) && !said.includes(`${note}\\`)) fell.push(`an acknowledged decision is lost: ${note}`);
  const now = sumsOf(cards);
  for (const [file, sum] of originals) if (now.get(file) !== sum) fell.push(`${path.basename(file)} was changed`);
  if (now.size !== originals.size) fell.push('something was written beside the originals');
  const job_ = path.join(data, 'jobs', job);
  const filesNow = () => (existsSync(job_) ? readdirSync(job_, { recursive: true, encoding: 'utf8' }) : []);
  const halvesNow = () => filesNow().filter((f) => path.basename(f).startsWith(HALF) || f.endsWith('.part'));
  // What a disk did not let go is tried again.
  for (const until = Date.now() + TIDIED; halvesNow().length > 0 && Date.now() < until; ) await pause(200);
  for (const file of halvesNow()) fell.push(`half a file is left behind: ${file}`);
  const files = filesNow();
  for (const title of returns)
    for (const file of files.filter(
      (f) => f.startsWith(path.join('returns', title)) && f.endsWith('.mov') && !path.basename(f).startsWith(HALF),
    )) {
      const { frames, warnings } = probeMovie(path.join(job_, file));
      // Handles of 4 frames at each side; an original that was cut off gives no clip at all.
      if (frames !== LENGTH + 8 || warnings.some((w) => w.code === 'truncated')) fell.push(`${file} has ${frames} frames`);
    }
  return fell;
}

/** Whether the database is sound, by SQLite's own check. */
export async function soundDatabase({ data }: World): Promise<string[]> {
  const db = createClient({ url: `file:${path.join(data, 'gemello.db')}` });
  const { rows } = await db.execute('PRAGMA integrity_check');
  db.close();
  const says = rows.map((r) => String(Object.values(r)[0])).join('; ');
  return says === 'ok' ? [] : [`the database: ${says}`];
}
