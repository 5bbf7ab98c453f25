import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, type Page, test } from '@playwright/test';
import { DEMO } from './demo';

/** Lists as they come, on the Turnover stage: sets of files, several cuts, tables, broken ones, and two exports of one cut. */
const EDL = (reel: string, length: string) =>
  `TITLE: STACKED\n001  ${reel}     V     C        01:00:00:00 01:00:02:${length} 10:00:00:00 10:00:02:${length}\n* FROM CLIP NAME: ${reel}C001\n`;
const file = (name: string, text: string) => ({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(text) });

async function newJob(page: Page, title: string): Promise<void> {
  await page.goto('/');
  await page.getByLabel('Name of the new job').fill(title);
  await page.getByRole('button', { name: 'Start a job' }).click();
  await page.getByText('Drop the list here').waitFor();
}
const arrival = (page: Page) => page.getByRole('region', { name: 'Before import' });
const figures = (page: Page) => arrival(page).getByRole('table', { name: 'What the settings change' });
const events = (page: Page) => page.getByRole('region', { name: 'Events of the list' });

test('a rate that the list does not state, and no original runs at, has to be said before the list comes in', async ({ page, request }) => {
  const folder = mkdtempSync(path.join(tmpdir(), 'gemello-rate-'));
  const clip = ['-f', 'lavfi', '-i', 'testsrc=size=320x180:rate=30000/1001:duration=2', '-c:v', 'mjpeg', '-timecode', '01:00:00:00'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...clip, path.join(folder, 'A001C001.mov')]);
  await newJob(page, 'Doubted');
  const job = page.url().split('/')[4] ?? '';
  await request.post(`/api/jobs/${job}/volumes`, { data: { path: folder } });
  await expect.poll(async () => JSON.stringify(await (await request.get(`/api/jobs/${job}/originals`)).json())).toContain('A001C001.mov');
  await page.reload();
  await page.getByLabel('Choose a list').setInputFiles(file('cut.edl', EDL('A001', '12')));
  await expect(arrival(page).getByText('no original runs at 24: they run at 29.97')).toBeVisible();
  await expect(arrival(page).getByRole('button', { name: 'Import' })).toBeDisabled();
  await arrival(page).getByLabel('Frame rate').selectOption('29.97');
  await expect(arrival(page).getByRole('button', { name: 'Import' })).toBeEnabled();
  rmSync(folder, { recursive: true });
});

test('several files are the layers of one cut; the text of each is a tab away', async ({ page }) => {
  await newJob(page, 'Layers');
  await page.getByLabel('Choose a list').setInputFiles([file('cut_V2.edl', EDL('B001', '10')), file('cut_V1.edl', EDL('A001', '12'))]);
  await expect(arrival(page).locator('ol li')).toContainText([/cut_V1\.edl/, /cut_V2\.edl/]);
  await expect(figures(page).getByRole('row', { name: 'Layers' })).toContainText('2');
  await arrival(page).getByLabel('Frame rate').selectOption('25');
  await expect(figures(page).getByRole('row', { name: 'Rate' })).toContainText('25');
  await expect(arrival(page).getByText(/2 of 2 events would name other frames/)).toBeVisible();
  await arrival(page).getByLabel('Raster').fill('1920x1080');
  await arrival(page).getByLabel('Raster').press('Enter');
  await expect(figures(page).getByRole('row', { name: 'Raster' })).toContainText('1920×1080');
  await arrival(page).getByRole('button', { name: 'Import' }).click();
  await events(page)
    .getByRole('button', { name: /B001C001/ })
    .click();
  await expect(page.getByRole('tab', { name: 'cut_V2.edl' })).toHaveAttribute('aria-selected', 'true');
  await page
    .getByRole('button', { name: /A001C001/ })
    .first()
    .click();
  await expect(page.getByRole('tab', { name: 'cut_V1.edl' })).toHaveAttribute('aria-selected', 'true');
});

test('files may be dropped anywhere on the stage', async ({ page }) => {
  await newJob(page, 'Dropped');
  const data = await page.evaluateHandle(
    (text) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([text], 'no_extension'));
      return transfer;
    },
    EDL('A001', '12'),
  );
  await page.getByText('Drop the list here').dispatchEvent('drop', { dataTransfer: data });
  await expect(arrival(page).getByText('Edit list, CMX 3600 style')).toBeVisible();
});

test('a file with several cuts asks which one; a table asks what its columns are', async ({ page }) => {
  await newJob(page, 'Choices');
  const sequence = (name: string, frames: number) =>
    `<sequence><name>${name}</name><duration>${frames}</duration><rate><timebase>24</timebase></rate><media><video><track><clipitem><name>${name} clip</name><start>0</start><end>${frames}</end><in>0</in><out>${frames}</out></clipitem></track></video></media></sequence>`;
  await page
    .getByLabel('Choose a list')
    .setInputFiles(file('two.xml', `<xmeml version="5">${sequence('LONG', 90)}${sequence('SHORT', 40)}</xmeml>`));
  await arrival(page).getByLabel('Which cut').selectOption({ label: 'SHORT: 40 frames, 1 events' });
  await expect(figures(page)).toContainText('SHORT');
  await arrival(page).getByRole('button', { name: 'Import' }).click();
  await expect(events(page).getByText('SHORT clip')).toBeVisible();

  await page
    .getByLabel('Import another list')
    .setInputFiles(file('sheet.csv', 'Rolle;Von;Bis\nA7;01:00:00:00;01:00:01:00\nA8;02:00:00:00;02:00:01:00\n'));
  await expect(arrival(page).getByText('It holds no event that could be read.')).toBeVisible();
  await arrival(page).getByLabel('What the column Rolle holds').selectOption('Reel');
  await arrival(page).getByLabel('What the column Von holds').selectOption('Source in');
  await arrival(page).getByLabel('What the column Bis holds').selectOption('Source out');
  await expect(figures(page).getByRole('row', { name: 'Events' })).toContainText('2');
  await arrival(page).getByRole('button', { name: 'Import for comparison' }).click();
  await expect(page.getByLabel('Compare the cut with another list')).toContainText('sheet.csv');
});

test('an AAF file says which of its cuts is meant, and is imported with the names of its sources', async ({ page }) => {
  const folder = mkdtempSync(path.join(tmpdir(), 'gemello-aaf-'));
  const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
  execFileSync(path.join(root, '.venv', 'bin', 'python'), [path.join(root, 'core', 'test', 'aaf_made.py'), folder]);
  await newJob(page, 'AAF');
  await page.getByLabel('Choose a list').setInputFiles(path.join(folder, 'nested.aaf'));
  await arrival(page).getByLabel('Which cut').selectOption({ label: 'SHORT: 20 frames, 1 events' });
  await expect(figures(page)).toContainText('SHORT');
  await arrival(page).getByLabel('Which cut').selectOption({ label: 'LONG: 55 frames, 3 events' });
  await arrival(page).getByRole('button', { name: 'Import' }).click();
  await expect(events(page).getByText('A001C001').first()).toBeVisible();
  await expect(page.getByText(/55 frames/).first()).toBeVisible();
  rmSync(folder, { recursive: true });
});

test('a list that cannot be read shows why, with the line, and is put away', async ({ page }) => {
  await newJob(page, 'Broken');
  await page.getByLabel('Choose a list').setInputFiles(file('cut.xml', '<xmeml version="5">\n<sequence>\n<name>CUT</nam>\n'));
  await expect(arrival(page).getByText(/The XML is not whole/)).toBeVisible();
  await expect(arrival(page).locator('pre')).toContainText('<name>CUT</nam>');
  await expect(arrival(page).getByRole('button', { name: 'Import' })).toBeDisabled();
  await arrival(page).getByRole('button', { name: 'Discard' }).click();
  await expect(page.getByText('Drop the list here')).toBeVisible();
});

test('a list that arrives while the lists were still awaited is shown', async ({ page }) => {
  // The first answer was made before the list arrived, and comes after it.
  let held = false;
  const arrived = page.waitForResponse((r) => r.url().includes('/lists?name=') && r.request().method() === 'PUT');
  await page.route(/\/api\/jobs\/[^/]+\/lists$/, async (route) => {
    const early = !held && route.request().method() === 'GET';
    if (!early) return route.continue();
    held = true;
    const response = await route.fetch();
    await arrived;
    await new Promise((resolve) => setTimeout(resolve, 500));
    await route.fulfill({ response });
  });
  await newJob(page, 'In time');
  await page.getByLabel('Choose a list').setInputFiles(file('cut.edl', EDL('A001', '12')));
  await expect(arrival(page).getByText('Edit list, CMX 3600 style')).toBeVisible();
  expect(held).toBe(true);
});

test('of two exports of one cut, what the one lacks is carried over from the other, and undone', async ({ page }) => {
  await newJob(page, 'Two exports');
  await page.getByLabel('Choose a list').setInputFiles(DEMO.list);
  await arrival(page).getByLabel('Frame rate').selectOption('23.976');
  await arrival(page).getByRole('button', { name: 'Import' }).click();
  await page.getByLabel('Import another list').setInputFiles(DEMO.second);
  await arrival(page).getByRole('button', { name: 'Import for comparison' }).click();
  await page.getByLabel('Compare the cut with another list').selectOption({ label: 'salt_year_v04.xml' });
  const beside = page.getByRole('region', { name: 'Two lists compared' });
  const row = (name: string) => beside.getByRole('table', { name: 'What each list lacks' }).getByRole('row', { name });
  // The scenario: the XML kept the one size the edit list lost, and lost its four speeds and its grade.
  await expect(row('Speed').getByRole('cell').nth(2)).toHaveText('4');
  await expect(row('CDL').getByRole('cell').nth(2)).toHaveText('1');
  await row('Size and position').getByRole('button', { name: 'Copy 1' }).click();
  await expect(page.getByText('Copied for 1 event')).toBeVisible();
  await expect(row('Size and position')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row('Size and position')).toHaveCount(1);
});

test('the cut is written in any format, with what that cannot carry told before', async ({ page }) => {
  await newJob(page, 'Writing');
  await page.getByLabel('Choose a list').setInputFiles(DEMO.list);
  await arrival(page).getByLabel('Frame rate').selectOption('23.976');
  await arrival(page).getByRole('button', { name: 'Import' }).click();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  const writing = page.getByRole('region', { name: 'Export the cut' });
  await writing.getByLabel('Format').selectOption({ label: 'Interchange XML (xmeml) .xml' });
  await expect(writing.getByText(/1 event with a CDL grade/)).toBeVisible();
  await writing.getByLabel('Format').selectOption({ label: 'AAF .aaf' });
  await expect(writing.getByText(/1 event with a CDL grade: AAF has no place for it/)).toBeVisible();
  const bytes = page.waitForEvent('download');
  await writing.getByRole('link', { name: 'SALT_YEAR_V04.aaf' }).click();
  // A compound file, by its first bytes (MS-CFB 2.2).
  expect(
    readFileSync(await (await bytes).path())
      .subarray(0, 4)
      .toString('hex'),
  ).toBe('d0cf11e0');
  await writing.getByLabel('Format').selectOption({ label: 'Edit list, CMX 3600 style .edl' });
  await writing.getByLabel('Layers').selectOption('apart');
  await writing.getByLabel('Title').fill('FINISH');
  const download = page.waitForEvent('download');
  await writing.getByRole('link', { name: 'FINISH_V2.edl' }).click();
  const text = readFileSync(await (await download).path(), 'utf8');
  expect(text).toMatch(/^TITLE: FINISH\nFCM: NON-DROP FRAME\n/);
  expect(text.match(/^\d{3} /gm)).toHaveLength(2);
});

test('files of grades grade the events they name', async ({ page }) => {
  await newJob(page, 'Grades');
  await page.getByLabel('Choose a list').setInputFiles(file('cut.edl', EDL('A001', '12')));
  await arrival(page).getByRole('button', { name: 'Import' }).click();
  const cc =
    '<ColorCorrectionCollection><ColorCorrection id="A001C001"><SatNode><Saturation>0.5</Saturation></SatNode></ColorCorrection></ColorCorrectionCollection>';
  await page.getByLabel('Import another list').setInputFiles(file('grades.ccc', cc));
  await expect(page.getByText('grades.ccc: 1 events graded')).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Stages' })).toContainText('1 graded');
});

test('a reference without a list is cut up: by a threshold, by hand, and into a list', async ({ page }) => {
  await newJob(page, 'Cut up');
  await page.getByLabel('Path of the reference movie').fill(DEMO.reference);
  await page.getByRole('button', { name: 'Use as reference' }).click();
  await page.getByRole('button', { name: 'Find its cuts' }).click();
  const cuts = page.getByRole('region', { name: 'Cuts of the reference' });
  await cuts.getByRole('button', { name: 'Look for cuts' }).click();
  const marks = page.getByTestId('marks');
  await expect(marks.getByRole('button', { name: '01:00:04:00 cut', exact: true })).toBeVisible();
  const count = async () => Number(/^(\d+) mark/.exec((await page.getByText(/^\d+ marks?, \d+ shots?$/).textContent()) ?? '')?.[1]);
  const before = await count();
  await cuts.getByLabel('Threshold').fill('95');
  expect(await count()).toBeLessThan(before);
  await cuts.getByLabel('Threshold').fill('12');
  // By hand: one taken away, one a frame later, one set in the picture of the frames around it.
  await marks.getByLabel('01:00:04:00: remove').click();
  await marks.getByLabel('01:00:06:22: one frame later').click();
  await expect(marks.getByRole('button', { name: '01:00:06:23 cut', exact: true })).toBeVisible();
  await cuts
    .locator('g', { has: page.locator('title', { hasText: '01:00:07:10' }) })
    .last()
    .dispatchEvent('click');
  await expect(cuts.getByText('no frame')).toHaveCount(0);
  expect(await count()).toBe(before);
  await cuts.getByRole('button', { name: 'Make a list of these shots' }).click();
  await expect(figures(page).getByRole('row', { name: 'Events' })).toContainText(String(before + 1));
  await arrival(page).getByRole('button', { name: 'Import' }).click();
  await expect(events(page).locator('[data-event], button').filter({ hasText: 'salt_year_v04_ref' }).first()).toBeVisible();
});
