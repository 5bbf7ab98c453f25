import { type ChildProcess, spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { formatTimecode, RATES } from '@gemello/core';
import { createClient } from '@libsql/client';
import { chromium, type Page } from '@playwright/test';
import { original } from '../core/test/make';
import { CHROMIUM } from '../e2e/chromium';
import { type Figure, inFolder, seconds } from './measure';

const PORT = 4396;
const BASE = `http://127.0.0.1:${PORT}`;
const MANY = 100_000;
const FEW = 100;
/** How long a view is scrolled for its frames to be counted, in milliseconds. */
const SCROLLED = 4000;

/** Events of the list that a decision is timed with. */
const EVENTS = 1000;

/** The Originals stage with a hundred thousand clips, in chromium: first paint and scrolling, and a decision; against the same with a hundred. Needs `npm run build`. */
export function table(): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const empty = await serve(folder);
    const jobs = { few: await emptyJob(folder, FEW), many: await emptyJob(folder, MANY) };
    await stop(empty);
    // The clips are put straight into the database, while no server holds what it knew.
    await fill(folder, jobs.few);
    await fill(folder, jobs.many);
    const server = await serve(folder);
    const browser = await chromium.launch(CHROMIUM);
    try {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      // Once unmeasured, so that the browser has the page itself.
      await measured(page, jobs.few);
      const few = await measured(page, jobs.few);
      const many = await measured(page, jobs.many);
      const figure = (name: string, ours: number, yardstick: number, note: string): Figure => ({
        name,
        ours,
        yardstick,
        yardstickName: `the same with ${FEW}`,
        note,
      });
      return [
        figure(`table of ${MANY} clips: first rows on screen`, many.first, few.first, `${(many.megabytes).toFixed(0)} MB of rows as JSON`),
        figure(
          `table of ${MANY} clips: a frame while scrolling`,
          1 / many.table,
          1 / few.table,
          `${many.table.toFixed(0)} frames/s, ${few.table.toFixed(0)} with ${FEW}`,
        ),
        figure(
          `reels of ${MANY} clips: a frame while scrolling`,
          1 / many.reels,
          1 / few.reels,
          `${many.reels.toFixed(0)} frames/s, ${few.reels.toFixed(0)} with ${FEW}`,
        ),
        figure(
          `${MANY} clips: a decision about one of ${EVENTS} events, and the ledger after it`,
          many.decision,
          few.decision,
          'through the server, without a browser',
        ),
        figure(`${MANY} clips: another reel for one of them, and the table after it`, many.correction, few.correction, 'as before'),
      ];
    } finally {
      await browser.close();
      await stop(server);
    }
  });
}

async function serve(data: string): Promise<ChildProcess> {
  const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
  const server = spawn(process.execPath, [path.join(root, 'scripts', 'serve.mjs'), '--port', String(PORT), '--data', data], {
    stdio: 'inherit',
  });
  for (let tries = 0; tries < 150; tries++) {
    // The page of the desk, not its data: a job must not be known before it is measured.
    const up = await fetch(BASE).then(
      (r) => r.ok,
      () => false,
    );
    if (up) return server;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  await stop(server);
  throw new Error('The server did not start; run npm run build first.');
}

async function stop(server: ChildProcess): Promise<void> {
  const ended = new Promise((resolve) => server.once('exit', resolve));
  server.kill('SIGTERM');
  await ended;
}

interface Job {
  readonly id: string;
  readonly volume: string;
  readonly card: string;
  readonly count: number;
}

async function ask(method: string, address: string, body?: string) {
  const sent = () => fetch(BASE + address, { method, body, headers: { 'content-type': 'application/json' } });
  // An idle connection may have been closed meanwhile.
  const answer = await sent().catch(sent);
  if (!answer.ok) throw new Error(`${address}: ${await answer.text()}`);
  return answer.json();
}

const reelOf = (n: number) => `R${Math.floor(n / 100)}`;
const startOf = (n: number) => (n % 100) * 3000;

/** A job with a volume that holds nothing yet, and a list that will use some of its clips. */
async function emptyJob(folder: string, count: number): Promise<Job> {
  const { id } = await ask('POST', '/api/jobs', JSON.stringify({ title: `${count} clips` }));
  const card = path.join(folder, `card-${count}`);
  mkdirSync(card);
  const { id: volume } = await ask('POST', `/api/jobs/${id}/volumes`, JSON.stringify({ path: card }));
  const { list } = await ask('PUT', `/api/jobs/${id}/lists?name=cut.edl`, listOf(count));
  await ask('POST', `/api/jobs/${id}/lists/${list}`, JSON.stringify({ reading: { rate: '24' }, as: 'cut' }));
  // The scan of the empty card must have ended: one writer at a time.
  for (let open = 1; open > 0; ) {
    await new Promise((resolve) => setTimeout(resolve, 300));
    open = (await ask('GET', `/api/jobs/${id}`)).tasks.length;
  }
  return { id, volume, card, count };
}

function listOf(count: number): string {
  const label = (frames: number) => formatTimecode(frames, RATES['24']);
  const lines = ['TITLE: MANY'];
  for (let e = 0; e < EVENTS; e++) {
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
async function fill(folder: string, { id, volume, card, count }: Job): Promise<void> {
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

async function measured(page: Page, { id, card, count }: Job) {
  const first = await seconds(async () => {
    await page.goto(`${BASE}/job/${id}/originals`);
    await page.getByText(`${count} of ${count} clips`).waitFor({ timeout: 120_000 });
    await page.getByRole('button', { name: /R0C0/ }).first().waitFor();
  });
  const table = await frames(page, '[data-testid=originals]');
  await page.getByRole('button', { name: 'reels', exact: true }).click();
  await page.getByRole('img', { name: /^Reel R0/ }).waitFor();
  const reels = await frames(page, '[aria-label=Reels]');
  // The page would ask as well.
  await page.goto('about:blank');
  const rows = await ask('GET', `/api/jobs/${id}/originals`);
  const { rows: ledger } = await ask('GET', `/api/jobs/${id}/ledger?as=rows`);
  const after = (resource: string, decision: object) =>
    seconds(async () => {
      await ask('POST', `/api/jobs/${id}/decisions`, JSON.stringify({ decisions: [decision] }));
      await ask('GET', `/api/jobs/${id}/${resource}`);
    });
  const decision = await after('ledger', { kind: 'exempt', event: ledger[0].id, exempt: true });
  const correction = await after('originals', { kind: 'correct', original: path.join(card, 'R0', 'R0C0.mov'), reel: 'Z1' });
  return { first, table, reels, decision, correction, megabytes: JSON.stringify(rows).length / 1e6 };
}

/** Frames a second while an element is scrolled by 40 pixels a frame. As text: the loader's names do not exist in the page. */
const frames = (page: Page, selector: string): Promise<number> =>
  page.evaluate<number>(`new Promise((resolve) => {
    const element = document.querySelector(${JSON.stringify(selector)});
    const began = performance.now();
    let count = 0;
    requestAnimationFrame(function step() {
      element.scrollTop = (element.scrollTop + 40) % Math.max(1, element.scrollHeight - element.clientHeight);
      count++;
      const passed = performance.now() - began;
      if (passed < ${SCROLLED}) requestAnimationFrame(step);
      else resolve((count * 1000) / passed);
    });
  })`);
