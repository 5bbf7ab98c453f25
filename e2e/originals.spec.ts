import { existsSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { RATES } from '@gemello/core';
import { expect, type Page, test } from '@playwright/test';
import { writeClip } from '../media/test/footage';
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
  await expect(page.getByRole('button', { name: 'Take this one' })).toBeVisible();
  await page.getByLabel('Path of a volume').fill(path.join(folder, 'CARD'));
  await page.getByRole('button', { name: 'Add volume' }).click();
  await expect(page.getByText('4 of 4 clips')).toBeVisible();
  await row('Q042C003').click();
  await expect(clip().getByText(/says 03:00:00:00, sidecar Q042C003\.xml says 04:00:00:00/)).toBeVisible();
});

test('another source is taken, and the word is undone', async () => {
  await clip().getByRole('button', { name: 'take it' }).first().click();
  await expect(clip().getByText('04:00:00:00 – 04:00:01:00')).toBeVisible();
  await expect(clip().getByText('set by hand')).toBeVisible();
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
  await bulk.getByRole('button', { name: 'Let go' }).click();
});

test('facets and words narrow, and a filter is kept under a name', async () => {
  const facets = page.getByRole('region', { name: 'Facets' });
  await facets.getByLabel(/late/).check();
  await expect(page.getByText('2 of 4 clips')).toBeVisible();
  await page.getByLabel('Filter originals').fill('01:00:10:10');
  await expect(page.getByText('1 of 4 clips')).toBeVisible();
  await page.getByLabel('Name for this filter').fill('the late ones');
  await page.getByRole('button', { name: 'Keep' }).click();
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect(page.getByText('4 of 4 clips')).toBeVisible();
  await page.getByLabel('Saved filters').selectOption('the late ones');
  await expect(page.getByText('1 of 4 clips')).toBeVisible();
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

test('reels are lines of timecode where overlaps and gaps show', async () => {
  await page.getByRole('button', { name: 'reels', exact: true }).click();
  const reels = page.getByRole('region', { name: 'Reels' });
  await expect(reels.getByText(/3 clips, 1 gap, 2 overlapping/)).toBeVisible();
  await expect(reels.getByRole('img', { name: 'Reel Q042, 3 clips' })).toBeVisible();
  await page.getByRole('button', { name: 'clips', exact: true }).click();
});

test('a volume that goes away is said so by itself, and is known again where it comes back', async () => {
  renameSync(path.join(folder, 'CARD'), path.join(folder, 'MOVED'));
  await expect(page.getByText('not here; 4 clips known')).toBeVisible();
  await page.getByLabel('Path of a volume').fill(path.join(folder, 'MOVED'));
  await page.getByRole('button', { name: 'Add volume' }).click();
  await page.getByRole('button', { name: 'It is CARD, moved here' }).click();
  await expect(page.getByText('not here; 4 clips known')).toHaveCount(0);
  await expect(page.getByText('4 of 4 clips')).toBeVisible();
  // The shift that was set by hand follows the clip.
  await expect(table().getByText('01:00:10:10')).toBeVisible();
  expect(existsSync(path.join(folder, 'CARD'))).toBe(false);
});
