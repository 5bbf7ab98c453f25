import { existsSync, mkdirSync, readFileSync, renameSync } from 'node:fs';
import path from 'node:path';
import type { DemoPaths } from './place';

export const DEMO_JOB = 'The Salt Year';
const AWAY = 'SALT_03';

/** Asks the running server; throws with its message when it refuses. */
async function ask<T>(base: string, method: string, address: string, body?: string | Buffer): Promise<T> {
  const response = await fetch(base + address, {
    method,
    body: body as BodyInit | undefined,
    headers: { 'content-type': 'application/json' },
  });
  const answer = (await response.json()) as T & { message?: string };
  if (!response.ok) throw new Error(`${method} ${address}: ${answer.message}`);
  return answer;
}

async function untilIdle(base: string, job: string): Promise<void> {
  for (;;) {
    const { tasks } = await ask<{ tasks: unknown[] }>(base, 'GET', `/api/jobs/${job}`);
    if (tasks.length === 0) return;
    await new Promise((resolve) => setTimeout(resolve, 250));
  }
}

/**
 * Puts the demo job on the desk, once: list, reference, volumes. The volume SALT_03 is scanned, its
 * clip accepted, and then taken away, as a drive that was unplugged. Returns the job's id.
 */
export async function seedDemo(base: string, paths: DemoPaths): Promise<string> {
  const { jobs } = await ask<{ jobs: { id: string; title: string }[] }>(base, 'GET', `/api/jobs?words=${encodeURIComponent(DEMO_JOB)}`);
  const known = jobs.find((j) => j.title === DEMO_JOB);
  if (known) return known.id;
  const { id } = await ask<{ id: string }>(base, 'POST', '/api/jobs', JSON.stringify({ title: DEMO_JOB }));
  const job = `/api/jobs/${id}`;
  const takeIn = async (file: string, reading: object, as: 'cut' | 'beside') => {
    const { list } = await ask<{ list: string }>(base, 'PUT', `${job}/lists?name=${path.basename(file)}`, readFileSync(file));
    await ask(base, 'POST', `${job}/lists/${list}`, JSON.stringify({ reading, as }));
  };
  await takeIn(paths.list, { rate: '23.976' }, 'cut');
  await takeIn(paths.second, {}, 'beside');
  await ask(base, 'POST', `${job}/reference`, JSON.stringify({ path: paths.reference }));

  const mounted = path.join(paths.media, AWAY);
  const unmounted = path.join(paths.unmounted, AWAY);
  mkdirSync(paths.unmounted, { recursive: true });
  if (existsSync(unmounted)) renameSync(unmounted, mounted);
  for (const name of ['SALT_01', 'SALT_02', AWAY, 'ARCHIVE'])
    await ask(base, 'POST', `${job}/volumes`, JSON.stringify({ path: path.join(paths.media, name) }));
  await untilIdle(base, id);
  const ledger = await ask<{ rows: { id: string; chosen: { path: string; sourceStartFrame: number } | null }[] }>(
    base,
    'GET',
    `${job}/ledger?as=rows`,
  );
  const away = ledger.rows.find((r) => r.chosen?.path.startsWith(mounted));
  if (away?.chosen) {
    const decision = { kind: 'pair', event: away.id, original: away.chosen.path, sourceStartFrame: away.chosen.sourceStartFrame };
    await ask(base, 'POST', `${job}/decisions`, JSON.stringify({ decisions: [decision] }));
  }
  renameSync(mounted, unmounted);
  await ask(base, 'POST', `${job}/tasks`, JSON.stringify({ kind: 'scan', volumes: null }));
  await untilIdle(base, id);
  return id;
}
