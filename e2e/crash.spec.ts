import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import path from 'node:path';
import { formatTimecode, RATES } from '@gemello/core';
import { HALF } from '@gemello/media/plain';
import { expect, test } from '@playwright/test';
import { writeClip } from '../media/test/footage';
import { type Server, serverAt } from '../soak/server';
import { PORTS } from './ports';

const CLIPS = 12;
let folder: string;
let server: Server;

test.beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-crash-'));
  server = serverAt(PORTS.crash, path.join(folder, 'desk'));
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
  await server.kill();
  rmSync(folder, { recursive: true });
});

test('a return goes on after a crash without rendering finished clips again, and decisions are still there', async () => {
  const ask = async (method: string, address: string, body?: unknown) => (await server.ask(method, address, body))?.said;
  await server.start();
  const { id } = await ask('POST', '/api/jobs', { title: 'Crash' });
  const { list } = await ask('PUT', `/api/jobs/${id}/lists?name=cut.edl`, readFileSync(path.join(folder, 'cut.edl')));
  await ask('POST', `/api/jobs/${id}/lists/${list}`, { reading: { rate: '24' }, as: 'cut' });
  await ask('POST', `/api/jobs/${id}/volumes`, { path: path.join(folder, 'cards') });
  const idle = async () => {
    for (;;) {
      const { tasks } = await ask('GET', `/api/jobs/${id}`);
      if (tasks.length === 0) return;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  };
  await idle();
  const { rows } = await ask('GET', `/api/jobs/${id}/ledger?as=rows`);
  const pairs = rows.map((r: any) => ({ kind: 'pair', event: r.id, original: r.chosen.path, sourceStartFrame: r.chosen.sourceStartFrame }));
  await ask('POST', `/api/jobs/${id}/decisions`, { decisions: pairs });
  await ask('POST', `/api/jobs/${id}/tasks`, { kind: 'return', handles: 8, title: 'BACK', render: true });
  const out = path.join(folder, 'desk', 'jobs', id, 'returns', 'BACK');
  const finished = () => {
    try {
      return readdirSync(out).filter((f) => f.endsWith('.mov') && !f.startsWith(HALF));
    } catch {
      return [];
    }
  };
  while (finished().length < 2 + availableParallelism()) await new Promise((resolve) => setTimeout(resolve, 20));
  await server.kill();
  const before = finished();
  expect(before.length).toBeLessThan(CLIPS);
  // Clips in hand when the server died are not among the finished ones; the last finished one of each thread may lack its record.
  const byTime = before.map((f) => [f, statSync(path.join(out, f)).mtimeMs] as const).sort((a, b) => a[1] - b[1]);
  const times = new Map(byTime.slice(0, -availableParallelism()));

  await server.start();
  await idle();
  const { tasks, decisions } = await ask('GET', `/api/jobs/${id}/activity`);
  expect(tasks[0]).toMatchObject({ kind: 'return', state: 'done', message: `${CLIPS} clips written; all as planned` });
  expect(decisions[0].text).toContain(`${CLIPS} events`);
  expect(finished()).toHaveLength(CLIPS);
  for (const [file, time] of times) expect(statSync(path.join(out, file)).mtimeMs).toBe(time);
  expect(readdirSync(out).filter((f) => f.startsWith(HALF))).toEqual([]);
});
