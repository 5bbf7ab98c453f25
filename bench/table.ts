import path from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM } from '../e2e/chromium';
import { type Figure, inFolder, seconds } from './measure';
import { ask, BASE, emptyJob, fill, type Job, serve, stop } from './server';

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
    const jobs = { few: await emptyJob(folder, FEW, EVENTS), many: await emptyJob(folder, MANY, EVENTS) };
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
