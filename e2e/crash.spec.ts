import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { formatTimecode, RATES } from '@gemello/core';
import { expect, test } from '@playwright/test';
import { writeClip } from '../media/test/footage';

const PORT = 4396;
const BASE = `http://127.0.0.1:${PORT}`;
const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const CLIPS = 12;

let folder: string;
let server: ChildProcess;

/** The server itself, without the script around it, so that a kill hits it and nothing else. */
async function start(): Promise<void> {
  const env = { ...process.env, HOST: '127.0.0.1', PORT: String(PORT), GEMELLO_DATA: path.join(folder, 'desk'), GEMELLO_ROOT: root };
  server = spawn(process.execPath, ['--import', 'tsx', path.join(root, 'scripts', 'listen.mjs')], {
    env,
    cwd: root,
    stdio: 'ignore',
  });
  for (let tries = 0; tries < 150; tries++) {
    if (
      await fetch(`${BASE}/api/jobs`).then(
        (r) => r.ok,
        () => false,
      )
    )
      return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('The server did not come up.');
}

function kill(): Promise<void> {
  return new Promise((resolve) => {
    server.once('exit', () => resolve());
    server.kill('SIGKILL');
  });
}

test.beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-crash-'));
  for (let i = 1; i <= CLIPS; i++)
    writeClip(path.join(folder, 'cards', `A${String(i).padStart(3, '0')}C001.mov`), {
      writer: 'intra-8bit',
      rate: RATES['24'],
      start: '01:00:00:00',
      reel: `A${String(i).padStart(3, '0')}`,
      frames: 120,
    });
  const tc = (n: number) => formatTimecode(n, RATES['24']);
  const lines = Array.from(
    { length: CLIPS },
    (_, i) =>
      `${String(i + 1).padStart(3, '0')}  A${String(i + 1).padStart(3, '0')}     V     C        01:00:00:10 01:00:04:10 ${tc(864_000 + i * 96)} ${tc(864_096 + i * 96)}`,
  );
  writeFileSync(path.join(folder, 'cut.edl'), `TITLE: CUT\n${lines.join('\n')}\n`);
});
test.afterAll(async () => {
  await kill();
  rmSync(folder, { recursive: true });
});

test('a return goes on after a crash without rendering finished clips again, and decisions are still there', async () => {
  const ask = async (method: string, address: string, body?: unknown) =>
    (
      await fetch(BASE + address, {
        method,
        body: body instanceof Buffer ? new Uint8Array(body) : JSON.stringify(body),
        headers: { 'content-type': 'application/json' },
      })
    ).json();
  await start();
  const { id } = await ask('POST', '/api/jobs', { title: 'Crash' });
  const { list } = await ask('PUT', `/api/jobs/${id}/lists?name=cut.edl`, readFileSync(path.join(folder, 'cut.edl')));
  await ask('POST', `/api/jobs/${id}/lists/${list}`, { reading: { rate: '24' }, as: 'cut' });
  await ask('POST', `/api/jobs/${id}/volumes`, { path: path.join(folder, 'cards') });
  const idle = async () => {
    for (let tries = 0; tries < 600; tries++) {
      const { tasks } = await (await fetch(`${BASE}/api/jobs/${id}`)).json();
      if (tasks.length === 0) return;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error('not idle');
  };
  await idle();
  const { rows } = await (await fetch(`${BASE}/api/jobs/${id}/ledger?as=rows`)).json();
  const pairs = rows.map((r: any) => ({ kind: 'pair', event: r.id, original: r.chosen.path, sourceStartFrame: r.chosen.sourceStartFrame }));
  await ask('POST', `/api/jobs/${id}/decisions`, { decisions: pairs });
  await ask('POST', `/api/jobs/${id}/tasks`, { kind: 'return', handles: 8, title: 'BACK', render: true });
  const out = path.join(folder, 'desk', 'jobs', id, 'returns', 'BACK');
  const finished = () => {
    try {
      return readdirSync(out).filter((f) => f.endsWith('.mov') && !f.includes('.part'));
    } catch {
      return [];
    }
  };
  while (finished().length < 2 + availableParallelism()) await new Promise((resolve) => setTimeout(resolve, 20));
  await kill();
  const before = finished();
  expect(before.length).toBeLessThan(CLIPS);
  // Clips in hand when the server died are not among the finished ones; the last finished one of each thread may lack its record.
  const byTime = before.map((f) => [f, statSync(path.join(out, f)).mtimeMs] as const).sort((a, b) => a[1] - b[1]);
  const times = new Map(byTime.slice(0, -availableParallelism()));

  await start();
  await idle();
  const { tasks, decisions } = await (await fetch(`${BASE}/api/jobs/${id}/activity`)).json();
  expect(tasks[0]).toMatchObject({ kind: 'return', state: 'done', message: `${CLIPS} clips written; all as planned` });
  expect(decisions[0].text).toContain(`${CLIPS} events`);
  expect(finished()).toHaveLength(CLIPS);
  for (const [file, time] of times) expect(statSync(path.join(out, file)).mtimeMs).toBe(time);
  expect(readdirSync(out).filter((f) => f.includes('.part'))).toEqual([]);
});
