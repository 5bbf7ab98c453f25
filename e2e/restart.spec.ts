import { type ChildProcess, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { createClient } from '@libsql/client';
import { expect, test } from '@playwright/test';

const PORT = Number(process.env.GEMELLO_TEST_PORT ?? 4398) + 1;
const base = `http://127.0.0.1:${PORT}`;
let folder: string;
let server: ChildProcess;

function start(): void {
  server = spawn(process.execPath, [path.join('scripts', 'serve.mjs'), '--port', String(PORT), '--data', path.join(folder, 'desk')], {
    stdio: 'ignore',
  });
}
const ended = (): Promise<unknown> => new Promise((resolve) => server.once('exit', resolve));

test.beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-'));
  mkdirSync(path.join(folder, 'cards'));
});
test.afterAll(async () => {
  server.kill();
  await ended();
  rmSync(folder, { recursive: true });
});

test('work that was going on when the server went down goes on when it starts, before anyone visits', async ({ request }) => {
  start();
  await expect
    .poll(
      () =>
        request.get(`${base}/api/up`).then(
          (r) => r.ok(),
          () => false,
        ),
      { timeout: 60_000 },
    )
    .toBe(true);
  const { id } = await (await request.post(`${base}/api/jobs`, { data: { title: 'Kept' } })).json();
  const { task } = await (await request.post(`${base}/api/jobs/${id}/volumes`, { data: { path: path.join(folder, 'cards') } })).json();
  const db = createClient({ url: `file:${path.join(folder, 'desk', 'gemello.db')}` });
  const state = async () => (await db.execute({ sql: 'SELECT state FROM tasks WHERE id = ?', args: [task] })).rows[0]?.state;
  await expect.poll(state).toBe('done');
  const down = ended();
  server.kill();
  await down;
  await db.execute({ sql: "UPDATE tasks SET state = 'running', ended_at = NULL WHERE id = ?", args: [task] });
  start();
  await expect.poll(state, { timeout: 60_000 }).toBe('done');
  db.close();
});
