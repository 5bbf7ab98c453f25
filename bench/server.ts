import { type ChildProcess, spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { Agent, get } from 'node:http';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { formatTimecode, RATES } from '@gemello/core';
import { createClient } from '@libsql/client';
import { original } from '../core/test/make';

const PORT = 4396;
/** The server that figures are taken of; on this machine only. */
export const BASE = `http://127.0.0.1:${PORT}`;

/** Starts the built server on a folder, and waits until it answers. */
export async function serve(data: string): Promise<ChildProcess> {
  const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
  const server = spawn(process.execPath, [path.join(root, 'scripts', 'serve.mjs'), '--port', String(PORT), '--data', data], {
    stdio: 'inherit',
  });
  for (let tries = 0; tries < 300; tries++) {
    const up = await fetch(`${BASE}/api/up`).then(
      (r) => r.ok,
      () => false,
    );
    if (up) return server;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  await stop(server);
  throw new Error('The server did not start; run npm run build first.');
}

export async function stop(server: ChildProcess): Promise<void> {
  const ended = new Promise((resolve) => server.once('exit', resolve));
  server.kill('SIGTERM');
  await ended;
}

export async function ask(method: string, address: string, body?: string) {
  const sent = () => fetch(BASE + address, { method, body, headers: { 'content-type': 'application/json' } });
  // An idle connection may have been closed meanwhile.
  const answer = await sent().catch(sent);
  if (!answer.ok) throw new Error(`${address}: ${await answer.text()}`);
  return answer.json();
}

/** Connections that stay open, as a browser's do. */
const agent = new Agent({ keepAlive: true });

/** Asks without `fetch`, whose own work would be measured too: of a bare server, twenty at once wait three to six times as long by it. */
export const answered = (address: string): Promise<void> =>
  new Promise((resolve, reject) => {
    get(address, { agent }, (answer) => {
      if (answer.statusCode !== 200) reject(new Error(`${address}: ${answer.statusCode}`));
      answer.on('end', resolve).on('error', reject).resume();
    }).on('error', reject);
  });

export interface Job {
  readonly id: string;
  readonly volume: string;
  readonly card: string;
  readonly count: number;
}

const reelOf = (n: number) => `R${Math.floor(n / 100)}`;
const startOf = (n: number) => (n % 100) * 3000;

/** A job with a volume that holds nothing yet, and a list that will use some of its clips. */
export async function emptyJob(folder: string, count: number, events: number): Promise<Job> {
  const { id } = await ask('POST', '/api/jobs', JSON.stringify({ title: `${count} clips, ${events} events` }));
  const card = path.join(folder, `card-${count}-${events}`);
  mkdirSync(card);
  const { id: volume } = await ask('POST', `/api/jobs/${id}/volumes`, JSON.stringify({ path: card }));
  const { list } = await ask('PUT', `/api/jobs/${id}/lists?name=cut.edl`, listOf(count, events));
  await ask('POST', `/api/jobs/${id}/lists/${list}`, JSON.stringify({ reading: { rate: '24' }, as: 'cut' }));
  // The scan of the empty card must have ended: one writer at a time.
  for (let open = 1; open > 0; ) {
    await new Promise((resolve) => setTimeout(resolve, 300));
    open = (await ask('GET', `/api/jobs/${id}`)).tasks.length;
  }
  return { id, volume, card, count };
}

function listOf(count: number, events: number): string {
  const label = (frames: number) => formatTimecode(frames, RATES['24']);
  const lines = ['TITLE: MANY'];
  for (let e = 0; e < events; e++) {
    const n = (e * 97) % count;
    const [source, record] = [startOf(n) + 20, 86_400 + e * 48];
    lines.push(
      `${String(e + 1).padStart(3, '0')}  ${reelOf(n).padEnd(8)} V     C        ${label(source)} ${label(source + 48)} ${label(record)} ${label(record + 48)}`,
      `* FROM CLIP NAME: ${reelOf(n)}C${n % 100}`,
    );
  }
  return lines.join('\n');
}

/** Puts the clips of a job into the database, a hundred on a reel. */
export async function fill(folder: string, { id, volume, card, count }: Job): Promise<void> {
  const client = createClient({ url: `file:${path.join(folder, 'gemello.db')}`, timeout: 10_000 });
  for (let at = 0; at < count; at += 500)
    await client.batch(
      Array.from({ length: Math.min(500, count - at) }, (_, i) => {
        const n = at + i;
        const file = path.join(card, reelOf(n), `${reelOf(n)}C${n % 100}.mov`);
        const data = original(file, { reel: reelOf(n), start: startOf(n), frames: 200 + (n % 7) * 100 });
        return {
          sql: 'INSERT INTO originals (path, job_id, volume_id, data, here) VALUES (?, ?, ?, ?, 1)',
          args: [file, id, volume, JSON.stringify(data)],
        };
      }),
      'write',
    );
  client.close();
}
