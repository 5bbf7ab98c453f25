import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { createClient } from '@libsql/client';
import { chromium, type Page } from '@playwright/test';
import { original } from '../core/test/make';
import { CHROMIUM } from '../e2e/chromium';
import { type Figure, inFolder } from './measure';

const PORT = 4396;
const BASE = `http://127.0.0.1:${PORT}`;
const MANY = 100_000;
const FEW = 100;
/** How long a view is scrolled for its frames to be counted, in milliseconds. */
const SCROLLED = 4000;

/** The Originals stage with a hundred thousand clips, in chromium: first paint and scrolling, against the same stage with a hundred. Needs `npm run build`. */
export function table(): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
    const server = spawn(process.execPath, [path.join(root, 'scripts', 'serve.mjs'), '--port', String(PORT), '--data', folder], {
      stdio: 'inherit',
    });
    const browser = await chromium.launch(CHROMIUM);
    try {
      await untilUp();
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      const few = await measured(page, await jobWith(folder, FEW), FEW);
      const many = await measured(page, await jobWith(folder, MANY), MANY);
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
      ];
    } finally {
      await browser.close();
      server.kill('SIGTERM');
      await new Promise((resolve) => server.once('exit', resolve));
    }
  });
}

async function untilUp(): Promise<void> {
  for (let tries = 0; tries < 150; tries++) {
    const up = await fetch(`${BASE}/api/jobs`).then(
      (r) => r.ok,
      () => false,
    );
    if (up) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  throw new Error('The server did not start; run npm run build first.');
}

/** A job with a volume of clips on a thousandth as many reels, put straight into the database. */
async function jobWith(folder: string, count: number): Promise<string> {
  const ask = async (address: string, body: object) =>
    (await fetch(BASE + address, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })).json();
  const { id } = await ask('/api/jobs', { title: `${count} clips` });
  const card = path.join(folder, `card-${count}`);
  mkdirSync(card);
  const { id: volume } = await ask(`/api/jobs/${id}/volumes`, { path: card });
  // The scan of the empty card must have ended: one writer at a time.
  for (let open = 1; open > 0; ) {
    await new Promise((resolve) => setTimeout(resolve, 300));
    open = (await (await fetch(`${BASE}/api/jobs/${id}`)).json()).tasks.length;
  }
  const client = createClient({ url: `file:${path.join(folder, 'gemello.db')}`, timeout: 10_000 });
  for (let at = 0; at < count; at += 500)
    await client.batch(
      Array.from({ length: Math.min(500, count - at) }, (_, i) => {
        const n = at + i;
        const file = path.join(card, `R${Math.floor(n / 100)}`, `R${Math.floor(n / 100)}C${n % 100}.mov`);
        const data = original(file, { reel: `R${Math.floor(n / 100)}`, start: (n % 100) * 3000, frames: 200 + (n % 7) * 100 });
        return {
          sql: 'INSERT INTO originals (path, job_id, volume_id, data, here) VALUES (?, ?, ?, ?, 1)',
          args: [file, id, volume, JSON.stringify(data)],
        };
      }),
      'write',
    );
  client.close();
  // A change through the server, so that it looks at the job anew; its idle connection may have been closed meanwhile.
  const rename = () =>
    fetch(`${BASE}/api/jobs/${id}/volumes?id=${volume}`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: '{"name":"CARD"}',
    });
  await rename().catch(rename);
  return id;
}

async function measured(page: Page, job: string, count: number) {
  const from = performance.now();
  await page.goto(`${BASE}/job/${job}/originals`);
  await page.getByText(`${count} of ${count} clips`).waitFor({ timeout: 120_000 });
  await page.getByRole('button', { name: /R0C0/ }).first().waitFor();
  const first = (performance.now() - from) / 1000;
  const table = await frames(page, '[data-testid=originals]');
  await page.getByRole('button', { name: 'reels', exact: true }).click();
  await page.getByRole('img', { name: /^Reel R0/ }).waitFor();
  const reels = await frames(page, '[aria-label=Reels]');
  const rows = await (await fetch(`${BASE}/api/jobs/${job}/originals`)).text();
  return { first, table, reels, megabytes: rows.length / 1e6 };
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
