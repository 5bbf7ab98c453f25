import { type ChildProcess, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { createClient } from '@libsql/client';
import { expect, test } from '@playwright/test';
import { PORTS } from './ports';

const PORT = PORTS.restart;
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
    .poll(() =>
      request.get(`${base}/api/up`).then(
        (r) => r.ok(),
        () => false,
      ),
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
  await expect.poll(state).toBe('done');
  db.close();
  // A link to a stage is often the first page that anyone asks for.
  expect((await request.get(`${base}/job/${id}/return`)).status()).toBe(200);
});

/** Starts a server beside, and gives what it says and how it ends. */
async function beside(...args: string[]): Promise<{ code: number | null; said: string }> {
  const other = spawn(process.execPath, [path.join('scripts', 'serve.mjs'), ...args], { stdio: ['ignore', 'ignore', 'pipe'] });
  let said = '';
  other.stderr.on('data', (part) => {
    said += part;
  });
  const code = await new Promise<number | null>((resolve) => other.once('exit', resolve));
  return { code, said: said.trim() };
}

test('a second server says in one line why it does not start: the folder is worked in, or the port is taken', async () => {
  const desk = path.join(folder, 'desk');
  const same = await beside('--port', String(PORT + 1), '--data', desk);
  expect(same.code).toBe(2);
  expect(same.said).toMatch(
    /^gemello: Another Gemello server \(process \d+\) works in .*desk\. Stop it first, or give another folder with --data\.$/,
  );
  const taken = await beside('--port', String(PORT), '--data', path.join(folder, 'other desk'));
  expect(taken.code).toBe(2);
  expect(taken.said).toBe(`gemello: Port ${PORT} is taken by another program. Close it, or give another port with --port.`);
});

test('a script that is killed does not leave its server behind, and the folder is free again', async ({ request }) => {
  const up = () =>
    request.get(`${base}/api/up`).then(
      (r) => r.ok(),
      () => false,
    );
  expect(await up()).toBe(true);
  const down = ended();
  server.kill('SIGKILL');
  await down;
  await expect.poll(up).toBe(false);
  start();
  await expect.poll(up).toBe(true);
});
