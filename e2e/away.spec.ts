import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { RATES } from '@gemello/core';
import { expect, type Page, test } from '@playwright/test';
import { writeClip } from '../media/test/footage';
import { type Server, serverAt } from '../soak/server';
import { PORTS } from './ports';

/** A page whose server goes away and comes back: what it shows then, what it keeps, and what it knows afterwards. */
test.describe.configure({ mode: 'serial' });

const CUT = 'TITLE: AWAY\n001  A001     V     C        01:00:00:10 01:00:50:10 10:00:00:00 10:00:50:00\n';

let folder: string;
let server: Server;
let job: string;
let page: Page;
test.beforeAll(async ({ browser }) => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-away-'));
  const clip = { writer: 'intra-8bit', rate: RATES['24'], start: '01:00:00:00', reel: 'A001', frames: 1300 } as const;
  writeClip(path.join(folder, 'cards', 'A001C001.mov'), clip);
  server = serverAt(PORTS.away, path.join(folder, 'desk'));
  await server.start();
  const ask = async (method: string, address: string, body?: unknown) => (await server.ask(method, address, body))?.said;
  job = (await ask('POST', '/api/jobs', { title: 'Away' })).id;
  const { list } = await ask('PUT', `/api/jobs/${job}/lists?name=cut.edl`, Buffer.from(CUT));
  await ask('POST', `/api/jobs/${job}/lists/${list}`, { reading: { rate: '24' }, as: 'cut' });
  await ask('POST', `/api/jobs/${job}/volumes`, { path: path.join(folder, 'cards') });
  page = await browser.newPage();
});
test.afterAll(async () => {
  await page.close();
  await server.kill();
  rmSync(folder, { recursive: true });
});

const isDown = () => page.getByRole('alert');
const goTo = (stage: string) =>
  page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('button', { name: new RegExp(`^${stage}`, 'i') })
    .click();

test('it is said that the server is away; what is typed stays, and what changed is shown once it is back', async () => {
  await page.goto(`${server.base}/job/${job}/originals`);
  const row = page.getByTestId('originals').getByRole('button', { name: /A001C001/ });
  await row.click();
  const note = page.getByRole('textbox', { name: 'Note' });
  await note.fill('the better take');
  await expect(isDown()).toHaveCount(0);

  await server.kill();
  await expect(isDown()).toHaveText('The server does not answer. What you see may be out of date.');
  await page.getByRole('button', { name: 'Measure checksums' }).click();
  await expect(page.getByText('The Gemello server does not answer. Is it still running?').first()).toBeVisible();
  await expect(note).toHaveValue('the better take');

  // Up again, and not yet able to say all.
  const aboutJob = new RegExp(`/api/jobs/${job}$`);
  await page.route(aboutJob, (route) => route.fulfill({ status: 503, json: { message: 'The database is busy.' } }));
  await server.start();
  await expect(isDown()).toHaveCount(0);
  await expect(page.getByText('What you see may be out of date. The database is busy.')).toBeVisible();
  await page.unroute(aboutJob);
  await expect(note).toHaveValue('the better take');
  await note.blur();
  await expect.poll(async () => JSON.stringify((await server.ask('GET', `/api/jobs/${job}/originals`))?.said)).toContain('the better take');
  const { volumes } = (await server.ask('GET', `/api/jobs/${job}`))?.said ?? {};
  await server.ask('PATCH', `/api/jobs/${job}/volumes?id=${volumes[0].id}`, { name: 'Renamed meanwhile' });
  await expect(page.getByText('Renamed meanwhile').first()).toBeVisible();
});

test('a picture that could not be had while it was away is not said to be missing, and is there afterwards', async () => {
  await goTo('turnover');
  // What the browser keeps is no question to the server. The thread that draws is fetched with the first stage that needs it.
  const asked = /\/picture\?|viewer\.worker/;
  await page.route(asked, (route) => route.abort());
  await server.kill();
  await expect(isDown()).toBeVisible();
  await goTo('pairing');
  const seen = page.locator('img[src*="side=event"]');
  await expect(page.getByTestId('ledger').getByRole('button').first()).toBeVisible();
  await expect(page.getByText('no picture')).toHaveCount(0);
  await expect(seen).toHaveCount(0);
  await page.unroute(asked);
  await server.start();
  await expect(seen.first()).toBeVisible();
});

test('the viewer says why it shows nothing, however its sides are held against each other, and not what it showed before', async () => {
  await goTo('proof');
  await expect(page.getByRole('img', { name: /^Reference and Conform/ })).toBeVisible();
  await server.kill();
  await expect(isDown()).toBeVisible();
  // Far from all that was fetched.
  const position = page.getByLabel('Record timecode; type another to go there');
  await position.fill('10:00:49:00');
  await position.press('Enter');
  const why = page.getByRole('main').getByText('The Gemello server does not answer. Is it still running?');
  await expect(why).toBeVisible();
  await page.getByRole('button', { name: 'Difference', exact: true }).click();
  await expect(why).toHaveText(/^Conform: /);
  await page.getByRole('button', { name: 'Side by side', exact: true }).click();
  await server.start();
  await expect(why).toHaveCount(0);
});

test('a machine without a network works on: the server is on it', async () => {
  await page.evaluate(() => window.dispatchEvent(new Event('offline')));
  await goTo('pairing');
  await page.getByTestId('ledger').getByRole('button', { name: /001/ }).first().click();
  await page.getByRole('button', { name: 'Accept pair', exact: true }).click();
  await expect.poll(async () => (await server.ask('GET', `/api/jobs/${job}/ledger?as=rows`))?.said.rows[0].state).toBe('paired');
});

test('work that ended while nothing was heard of it is not shown as going on', async () => {
  const returning = { kind: 'return', handles: 0, title: 'BACK', render: true };
  const { id } = (await server.ask('POST', `/api/jobs/${job}/tasks`, returning))?.said ?? {};
  await server.ask('PATCH', `/api/jobs/${job}/tasks/${id}`, { do: 'pause' });
  const line = page.getByRole('status').filter({ hasText: 'Return' });
  await expect(line).toContainText('paused');
  await page.route(/\/watch$/, (route) => route.abort());
  await server.kill();
  await expect(isDown()).toBeVisible();
  await server.start();
  await server.ask('DELETE', `/api/jobs/${job}/tasks/${id}`);
  await page.unroute(/\/watch$/);
  await expect(isDown()).toHaveCount(0);
  await expect(line).toHaveCount(0);
});

test('pages that are not seen leave the others their connections, and show what changed once they are seen again', async ({ context }) => {
  const open = async () => {
    const other = await context.newPage();
    await other.goto(`${server.base}/job/${job}/pairing`);
    await expect(other.getByTestId('ledger').getByRole('button').first()).toBeVisible();
    return other;
  };
  const see = (other: Page, seen: boolean) =>
    other.evaluate((hidden) => {
      Object.defineProperty(document, 'hidden', { value: hidden, configurable: true });
      document.dispatchEvent(new Event('visibilitychange'));
    }, !seen);
  const behind: Page[] = [];
  // A browser opens no more than six connections to a server.
  for (let i = 0; i < 8; i++) {
    const other = await open();
    await see(other, false);
    behind.push(other);
  }
  const [first] = behind as [Page];
  await server.ask('PATCH', `/api/jobs/${job}`, { title: 'Named while nobody looked' });
  const last = behind.at(-1) as Page;
  await see(last, true);
  await expect(last.getByRole('heading', { name: 'Named while nobody looked' })).toBeVisible();
  await expect(first.getByRole('heading', { name: 'Away' })).toBeVisible();
  await see(first, true);
  await expect(first.getByRole('heading', { name: 'Named while nobody looked' })).toBeVisible();
});
