import { copyFileSync, existsSync, mkdirSync, mkdtempSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { RATES } from '@gemello/core';
import { expect, type Page, test } from '@playwright/test';
import { writeClip, writeFrames } from '../media/test/footage';
import { wav } from '../media/test/headers';

/** The Originals stage on a small card of our own: what the sources say, corrections, tags, filters, reels, a volume that moves. */
test.describe.configure({ mode: 'serial' });

let page: Page;
let folder: string;
test.beforeAll(async ({ browser }) => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-card-'));
  const clip = (name: string, start: string, reel: string) =>
    writeClip(path.join(folder, 'CARD', 'Q042', name), { writer: 'intra-8bit', rate: RATES['25'], start, reel, frames: 25 });
  clip('Q042C001.mov', '01:00:00:00', 'Q042');
  clip('Q042C002.mov', '01:00:00:10', 'Q042');
  clip('Q042C003.mov', '03:00:00:00', 'Q042');
  writeFileSync(
    path.join(folder, 'CARD', 'Q042', 'Q042C003.xml'),
    '<clip><StartTimecode>04:00:00:00</StartTimecode><Reel>Q043</Reel></clip>',
  );
  // Begins where Q042C003 ends, as in record-run: no sign of one take by itself.
  clip('Q042C004.mov', '03:00:01:00', 'Q042');
  writeFileSync(path.join(folder, 'CARD', 'Q042', 'T001.wav'), wav(2, { samplesSinceMidnight: 48_000 * 3600 }));
  page = await browser.newPage();
});
test.afterAll(async () => {
  await page.close();
  rmSync(folder, { recursive: true });
});

const table = () => page.getByTestId('originals');
const clip = () => page.getByRole('region', { name: 'The chosen clip' });
const row = (name: string) => table().getByRole('button', { name: new RegExp(name) });

test('a volume is found by browsing, and its clips appear with what each source says', async () => {
  await page.goto('/');
  await page.getByLabel('Name of the new job').fill('Card');
  await page.getByRole('button', { name: 'Start a job' }).click();
  await page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('button', { name: /^originals/i })
    .click();
  await page.getByRole('button', { name: 'Browse' }).click();
  await expect(page.getByRole('button', { name: 'Choose this folder' })).toBeVisible();
  await page.getByLabel('Path of a volume').fill(path.join(folder, 'CARD'));
  await page.getByRole('button', { name: 'Add volume' }).click();
  await expect(page.getByText('5 of 5 clips')).toBeVisible();
  await row('Q042C003').click();
  await expect(clip().getByText(/says 03:00:00:00, sidecar Q042C003\.xml says 04:00:00:00/)).toBeVisible();
});

test('the path of the next volume that is typed while one is being added stays', async () => {
  const field = page.getByLabel('Path of a volume');
  let answer = () => {};
  const typed = new Promise<void>((resolve) => {
    answer = resolve;
  });
  // The server never hears of it, so that the card stays the only volume; what counts is when the answer comes.
  await page.route(/\/volumes$/, async (route) => {
    if (route.request().method() !== 'POST') return route.continue();
    await typed;
    await route.fulfill({ json: { id: 'one that is added' } });
  });
  await field.fill('/first');
  const added = page.waitForResponse((r) => /\/volumes$/.test(r.url()) && r.request().method() === 'POST');
  await page.getByRole('button', { name: 'Add volume' }).click();
  await field.fill('/second');
  answer();
  await added;
  await page.unroute(/\/volumes$/);
  await expect(page.getByRole('button', { name: 'Add volume' })).toBeEnabled();
  await expect(field).toHaveValue('/second');
  await field.fill('');
});

test('another source is taken, and the word is undone', async () => {
  await clip().getByRole('button', { name: 'take it' }).first().click();
  await expect(clip()).toContainText(/04:00:00:00 – 04:00:01:00[\s\S]*set by hand/);
  // The message goes away after a while.
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect(clip().getByText('03:00:00:00 – 03:00:01:00')).toBeVisible();
  await clip().getByRole('button', { name: 'Close' }).click();
});

test('a selection is shifted and tagged at once', async () => {
  await page.getByLabel('Select Q042C001.mov').check();
  await page.getByLabel('Select Q042C002.mov').check();
  const bulk = page.getByRole('region', { name: 'Selected clips' });
  await bulk.getByLabel("Shift of the selected clips' timecode").fill('+00:00:10:00');
  await bulk.getByRole('button', { name: 'Shift timecode' }).click();
  await expect(table().getByText('01:00:10:00')).toBeVisible();
  await expect(table().getByText('01:00:10:10')).toBeVisible();
  await bulk.getByLabel('Tag for the selected clips').fill('late');
  await bulk.getByRole('button', { name: 'Tag', exact: true }).click();
  await expect(page.getByRole('region', { name: 'Facets' }).getByText('late')).toBeVisible();
  await bulk.getByRole('button', { name: 'Clear selection' }).click();
});

test('facets and words narrow, and a filter is kept under a name', async () => {
  const facets = page.getByRole('region', { name: 'Facets' });
  await facets.getByLabel(/late/).check();
  await expect(page.getByText('2 of 5 clips')).toBeVisible();
  await page.getByLabel('Filter originals').fill('01:00:10:10');
  await expect(page.getByText('1 of 5 clips')).toBeVisible();
  await page.getByLabel('Name for this filter').fill('the late ones');
  await page.getByRole('button', { name: 'Save filter' }).click();
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect(page.getByText('5 of 5 clips')).toBeVisible();
  await page.getByLabel('Saved filters').selectOption('the late ones');
  await expect(page.getByText('1 of 5 clips')).toBeVisible();
  await page.getByRole('button', { name: 'Show all' }).click();
});

test('headings sort, columns are chosen', async () => {
  const first = () =>
    table()
      .getByRole('button', { name: /Q042C00|T001/ })
      .first();
  await page.getByRole('button', { name: 'Sort by Timecode in' }).click();
  await page.getByRole('button', { name: 'Sort by Timecode in' }).click();
  await expect(first()).toContainText('T001');
  await table().getByText('Columns').click();
  await table().getByLabel('Codec').check();
  await expect(page.getByRole('button', { name: 'Sort by Codec' })).toBeVisible();
  await table().getByText('Columns').click();
});

test('a clip log is brought along, its columns are named, and what it says is taken in and undone', async () => {
  await page.getByRole('button', { name: 'Clip logs' }).click();
  const logs = page.getByRole('region', { name: 'Clip logs' });
  await logs.getByLabel('A clip log from this computer').setInputFiles({
    name: 'sheets.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('Shot;Begins;Said\nQ042C001;05:00:00:00;windy\nQ042C009;06:00:00:00;\n'),
  });
  await expect(logs.getByText('First choose the column that names the clip.')).toBeVisible();
  await logs.getByLabel('What the column Shot holds').selectOption('clip');
  await logs.getByLabel('What the column Begins holds').selectOption('timecode');
  await logs.getByLabel('What the column Said holds').selectOption('notes');
  await expect(logs.getByText('1 clip would be set, 0 agree already; 1 gets a note; 1 is on no volume (Q042C009).')).toBeVisible();
  await logs.getByRole('button', { name: 'Import' }).click();
  await expect(table().getByText('05:00:00:00')).toBeVisible();
  await row('Q042C001').click();
  await expect(clip().getByText('clip log sheets.csv, imported')).toBeVisible();
  await expect(clip().getByLabel('Note')).toHaveValue('windy');
  await clip().getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect(table().getByText('01:00:10:00')).toBeVisible();
  await logs.getByRole('button', { name: 'Close' }).click();
});

test('a note that the server could not save stays in its field and is tried again', async () => {
  await row('Q042C001').click();
  let refused = 0;
  await page.route('**/originals', (route) => {
    if (route.request().method() !== 'PATCH' || refused >= 2) return route.continue();
    refused++;
    return route.fulfill({ status: 503, json: { message: 'The database is busy.' } });
  });
  const note = clip().getByLabel('Note');
  await note.fill('kept through a fault');
  await note.blur();
  await expect(note).toHaveValue('kept through a fault');
  await expect.poll(() => refused).toBe(2);
  const saved = async () => {
    const job = /job\/([^/]+)/.exec(page.url())?.[1];
    return JSON.stringify(await (await page.request.get(`/api/jobs/${job}/originals`)).json());
  };
  await expect.poll(saved).toContain('kept through a fault');
  await page.unroute('**/originals');
});

test('what one writes stays while another saves a note of the same clip, and neither is lost unseen', async () => {
  await row('Q042C001').click();
  const note = clip().getByLabel('Note');
  const job = /job\/([^/]+)/.exec(page.url())?.[1];
  const patched = (data: object) => page.request.patch(`/api/jobs/${job}/originals`, { data });
  const at = async () => (await (await page.request.get(`/api/jobs/${job}/originals?path=${encodeURIComponent(file)}`)).json()).note;
  const file = (await clip().locator('p[title^="/"]').first().getAttribute('title')) as string;
  await note.fill('sun flares at the end');
  expect((await patched({ paths: [file], note: 'dust on the lens' })).ok()).toBe(true);
  await expect(clip().getByRole('status')).toContainText('Someone else saved meanwhile: dust on the lens');
  await expect(note).toHaveValue('sun flares at the end');
  await note.blur();
  expect(await at()).toBe('dust on the lens');
  await note.fill('dust on the lens; sun flares at the end');
  await clip().getByRole('button', { name: 'Replace it with mine' }).click();
  await expect(clip().getByRole('status')).toHaveCount(0);
  await expect(note).toHaveValue('dust on the lens; sun flares at the end');
  expect(await at()).toBe('dust on the lens; sun flares at the end');
  await note.fill('only mine');
  await patched({ paths: [file], note: 'theirs' });
  await clip().getByRole('button', { name: 'Take theirs' }).click();
  await expect(note).toHaveValue('theirs');
  await patched({ paths: [file], note: '' });
  await expect(note).toHaveValue('');
});

test('a whole folder is given a reel, and the word is taken back', async () => {
  await page.getByLabel('Select Q042C001.mov').check();
  const bulk = page.getByRole('region', { name: 'Selected clips' });
  await bulk.getByLabel('their whole folder').check();
  await bulk.getByLabel('Reel for the selected clips').fill('K7');
  await bulk.getByRole('button', { name: 'Set reel' }).click();
  await expect(table().getByText('K7', { exact: true })).toHaveCount(5);
  await bulk.getByRole('button', { name: 'Reset to the files’ values' }).click();
  await expect(table().getByText('K7', { exact: true })).toHaveCount(0);
  await bulk.getByRole('button', { name: 'Clear selection' }).click();
});

test('proxies are made, listed as such, and one is said to be none', async () => {
  await page.getByLabel('Select Q042C001.mov').check();
  const bulk = page.getByRole('region', { name: 'Selected clips' });
  await bulk.getByRole('button', { name: 'Proxies' }).click();
  await bulk.getByLabel('Size').selectOption('640');
  await bulk.getByLabel('burn in name and timecode').check();
  await bulk.getByRole('button', { name: 'Make one' }).click();
  await expect(page.getByText('6 of 6 clips')).toBeVisible();
  await expect(row('proxy.*Proxies made here / Q042C001.mov')).toBeVisible();
  await bulk.getByRole('button', { name: 'Clear selection' }).click();
  await row('CARD / Q042C001.mov').click();
  await expect(clip().getByText('Proxies', { exact: true })).toBeVisible();
  await clip().getByRole('button', { name: 'Q042C001.mov is not a proxy' }).click();
  await expect(clip().getByText('No proxy is known. Select the clip to make one.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect(clip().getByRole('button', { name: 'Q042C001.mov is not a proxy' })).toBeVisible();
});

/** Messages lie over the foot of the page of a clip for some seconds. */
const untilQuiet = async () => {
  await page.mouse.move(300, 300, { steps: 5 });
  await expect(page.locator('[data-sonner-toast]')).toHaveCount(0);
};

test('the content of a clip is measured', async () => {
  await untilQuiet();
  await expect(clip().getByText('No manifest lists it, and it has not been measured.')).toBeVisible();
  await clip().getByRole('button', { name: 'Measure checksums' }).click();
  await expect(clip().getByText(/^xxh64 [0-9a-f]{16}$/)).toBeVisible();
  await clip().getByRole('button', { name: 'Close' }).click();
});

test('two files are joined as one take when a person says so, and taken apart', async () => {
  await row('Q042C003').click();
  await untilQuiet();
  await expect(clip().getByText('Continues in')).toBeVisible();
  await clip().getByRole('button', { name: 'Join as one take' }).click();
  await expect(clip().getByText('One take in 2 files')).toBeVisible();
  await expect(clip().getByText('50 frames at 25')).toBeVisible();
  await clip().getByRole('button', { name: 'Split into separate clips' }).click();
  await expect(clip().getByText('25 frames at 25')).toBeVisible();
  await clip().getByRole('button', { name: 'Close' }).click();
});

test('reels are lines of timecode where overlaps and gaps show', async () => {
  await page.getByRole('button', { name: 'reels', exact: true }).click();
  const reels = page.getByRole('region', { name: 'Reels' });
  await expect(reels.getByText(/4 clips, 1 gap, 2 overlapping/)).toBeVisible();
  await expect(reels.getByRole('img', { name: 'Reel Q042, 4 clips' })).toBeVisible();
  await page.getByRole('button', { name: 'clips', exact: true }).click();
});

test('a volume that goes away is said so by itself, and is known again where it comes back', async () => {
  renameSync(path.join(folder, 'CARD'), path.join(folder, 'MOVED'));
  await expect(page.getByText('not here; 5 clips known')).toBeVisible();
  await page.getByLabel('Path of a volume').fill(path.join(folder, 'MOVED'));
  await page.getByRole('button', { name: 'Add volume' }).click();
  await page.getByRole('button', { name: 'This is CARD at a new path' }).click();
  await expect(page.getByText('not here; 5 clips known')).toHaveCount(0);
  await expect(page.getByText('6 of 6 clips')).toBeVisible();
  // The shift that was set by hand follows the clip.
  await expect(table().getByText('01:00:10:10')).toBeVisible();
  expect(existsSync(path.join(folder, 'CARD'))).toBe(false);
});

test('the same file on another volume is told from a namesake by its fingerprint', async () => {
  mkdirSync(path.join(folder, 'COPY'));
  copyFileSync(path.join(folder, 'MOVED', 'Q042', 'Q042C004.mov'), path.join(folder, 'COPY', 'Q042C004.mov'));
  copyFileSync(path.join(folder, 'MOVED', 'Q042', 'Q042C002.mov'), path.join(folder, 'COPY', 'Q042C003.mov'));
  await page.getByLabel('Path of a volume').fill(path.join(folder, 'COPY'));
  await page.getByRole('button', { name: 'Add volume' }).click();
  await expect(page.getByText('8 of 8 clips')).toBeVisible();
  await row('COPY / Q042C004.mov').click();
  await expect(clip().getByText(/^The same file lies at .*MOVED.*, by size, head and tail/)).toBeVisible();
  await row('COPY / Q042C003.mov').click();
  await expect(clip().getByText('2 different originals are called Q042C003.')).toBeVisible();
});

test('numbered frames that are missing are named, and keep their places when the clip is proposed', async () => {
  const run = path.join(folder, 'SCANS', 'S004');
  writeFrames(run, 30);
  for (const number of [1011, 1012, 1015]) rmSync(path.join(run, `S004.000${number}.dpx`));
  symlinkSync(path.join(folder, 'nowhere'), path.join(folder, 'SCANS', 'old.mov'));
  await page.getByLabel('Path of a volume').fill(path.join(folder, 'SCANS'));
  await page.getByRole('button', { name: 'Add volume' }).click();
  await expect(page.getByText('9 of 9 clips')).toBeVisible();
  await row('S004').click();
  await expect(
    clip().getByText('3 numbered frames are missing: 1011–1012, 1015. Their places are kept. Copy the folder again.'),
  ).toBeVisible();
  await expect(clip().getByText('30 frames at 24')).toBeVisible();

  const stage = (name: RegExp) => page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name });
  await page.getByText('1 file unreadable').click();
  await expect(page.getByText('The link old.mov leads nowhere. Is what it leads to mounted?')).toBeVisible();
  await stage(/^turnover/i).click();
  const list = 'TITLE: SCANS\n001  S004     V     C        04:00:00:08 04:00:00:16 10:00:00:00 10:00:00:08\n';
  await page.getByLabel('Choose a list').setInputFiles({ name: 'scans.edl', mimeType: 'text/plain', buffer: Buffer.from(list) });
  const arrival = page.getByRole('region', { name: 'Before import' });
  await arrival.getByLabel('Frame rate').selectOption('24');
  await arrival.getByRole('button', { name: 'Import' }).click();
  await stage(/^pairing/i).click();
  await page.getByTestId('ledger').getByText('S004').first().click();
  await expect(page.getByText('lacks 0 frames at the head, 0 at the tail, 3 inside')).toBeVisible();
  await expect(page.getByText('no such frame')).toHaveCount(0);
  // The playhead stands on frame 12 of the clip, in the middle of the event; 14 is missing.
  for (let n = 0; n < 2; n++) await page.keyboard.press('ArrowRight');
  await expect(page.getByText('no such frame')).toHaveCount(2);
});
