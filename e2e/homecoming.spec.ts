import { copyFileSync, mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { gradeAll } from '../demo/src/room';
import { jobOf, withNumberedFiles } from './numbered';

/** A return is written in another way than usual, goes through the stand-in for a grading room, and comes back. */
withNumberedFiles();
const room = mkdtempSync(path.join(tmpdir(), 'gemello-room-'));
test.afterAll(() => rmSync(room, { recursive: true, force: true }));

test('how a return is asked for is kept under a name, and says what it comes to', async ({ request, page }) => {
  await page.goto(`/job/${await jobOf(request)}/return`);
  const clips = page.getByRole('table').getByRole('row');
  await expect(clips).not.toHaveCount(0);
  const before = await clips.count();
  await page.getByLabel('Clips are written as').selectOption('intra-light');
  await page.getByLabel('Speed', { exact: true }).check();
  await expect(page.getByText(/events have their speed in the pictures/)).toBeVisible();
  await page.getByLabel('One clip for each').selectOption('span');
  await expect.poll(() => clips.count()).toBeLessThan(before);
  await expect(page.getByText(/and \d+ more/).first()).toBeVisible();
  await expect(page.getByTestId('size')).toHaveText(/^About \d+ MB; the disk has [\d.]+ GB left\.$/);
  await page.getByLabel('Keep settings as').fill('light, shared');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await page.getByLabel('One clip for each').selectOption('event');
  await page.getByLabel('Kept settings').selectOption('light, shared');
  await expect(page.getByLabel('One clip for each')).toHaveValue('span');
  // Kept for all jobs: another visit finds it too.
  await page.reload();
  await expect(page.getByLabel('Kept settings')).toHaveValue('light, shared');
  // Text is for clips to look at, and says what it cannot take in.
  await expect(page.getByLabel('Text in the pictures')).toHaveCount(0);
  await page.getByLabel('Clips are written as').selectOption('review');
  await page.getByLabel('Text in the pictures').fill('{name} {camera}');
  await expect(page.getByRole('alert')).toContainText('{camera} is not known here');
  await page.getByLabel('Text in the pictures').fill('{name} {source}');
  await expect(page.getByRole('alert')).toHaveCount(0);
  await page.getByLabel('Sound').selectOption('original');
  await expect(page.getByText(/clips? goe?s? without sound/)).toBeVisible();
  await page.getByLabel('Clips are written as').selectOption('dpx');
  await expect(page.getByLabel('Sound')).toHaveCount(0);
  await expect(
    page
      .getByRole('table')
      .getByText(/\/.*\.\d{7}\.dpx$/)
      .first(),
  ).toBeVisible();
  await page.getByLabel('Clips are written as').selectOption('intra-light');
});

test('what an outside room graded is taken in, shown in place of its events, and an older version is one choice away', async ({
  request,
  page,
}) => {
  const job = await jobOf(request);
  await page.goto(`/job/${job}/return`);
  await page.getByRole('button', { name: /^Write \d+ clips and list$/ }).click();
  await expect(page.getByTestId('written')).toContainText('as planned');
  const { last } = await (await request.get(`/api/jobs/${job}/return`)).json();
  expect(last.problems).toEqual([]);
  // Two of the clips were sent, and come back twice.
  const sent = path.join(room, 'sent');
  mkdirSync(sent);
  const files = readdirSync(last.folder).filter((name) => name.endsWith('.mov'));
  for (const name of files.slice(0, 2)) copyFileSync(path.join(last.folder, name), path.join(sent, name));
  const back = path.join(room, 'back');
  gradeAll(sent, back, 1);
  gradeAll(sent, back, 2);
  await page.getByRole('tab', { name: 'Take back what was made elsewhere' }).click();
  await page.getByLabel('Folder of graded clips, effects or titles that came back').fill(back);
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  const home = page.getByTestId('homecoming');
  const row = home.locator('[data-event]').first();
  await expect(row).toContainText('its original');
  await page.getByRole('button', { name: /^Show the newest of \d+ events$/ }).click();
  await expect(row).toContainText('version 2');
  await row.getByRole('combobox').selectOption({ index: 2 });
  await expect(row).toContainText('version 1; there is a newer one');
  await expect(page.getByRole('button', { name: 'Show the newest of 1 event' })).toBeEnabled();
  await page.getByRole('tab', { name: /^For no event/ }).click();
  await expect(home.getByText('no event has its timecode')).toHaveCount(0);
});
