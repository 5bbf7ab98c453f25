import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, test } from '@playwright/test';
import { gradeAll } from '../demo/src/room';
import { jobOf, LENGTH, withNumberedFiles } from './numbered';

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
  await expect(page.getByTestId('size')).toHaveText(/^About [\d.]+ [kMG]B; the disk has [\d.]+ GB left\.$/);
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

test('lists say where the clips will be on another machine', async ({ request, page }) => {
  const job = await jobOf(request);
  await page.goto(`/job/${job}/return`);
  await page.getByLabel('Where lists find the clips').selectOption('elsewhere');
  await page.getByLabel('Folder on the other machine').fill('D:\\Shows\\The cut');
  await page.getByRole('button', { name: /^Write \d+ clips and list$/ }).click();
  const linked = async () => {
    const { last } = await (await request.get(`/api/jobs/${job}/return`)).json();
    const xml = readdirSync(last.folder).find((name) => name.endsWith('.xml'));
    return xml ? [...readFileSync(path.join(last.folder, xml), 'utf8').matchAll(/<pathurl>([^<]*)<\/pathurl>/g)].map(([, url]) => url) : [];
  };
  await expect.poll(linked).toContainEqual(expect.stringMatching(/^file:\/\/(localhost)?\/D:\/Shows\/The%20cut\/.*\.mov$/));
  await expect(page.getByTestId('written')).toContainText('as planned');
});

test('a final mix is laid by the guide sound and goes under the review movie; that of another cut is refused', async ({
  request,
  page,
}) => {
  const job = await jobOf(request);
  const sound = (name: string, lead: number, seed: number) => {
    const file = path.join(room, name);
    // Noise whose loudness changes as speech does: its own in each.
    const noise = `anoisesrc=seed=${seed}:r=48000:d=${LENGTH / 24}`;
    const talk = `volume='0.1+0.9*abs(sin(${1.7 + seed / 7}*t)*sin(${4.1 + seed / 5}*t))':eval=frame`;
    const filter = `${talk},adelay=${lead * 1000},apad=pad_dur=1`;
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', noise, '-af', filter, '-c:a', 'pcm_s16le', file]);
    return file;
  };
  await request.post(`/api/jobs/${job}/guide`, { data: { path: sound('guide.wav', 0, 1) } });
  await page.goto(`/job/${job}/return`);
  const laid = async (mix: string, says: RegExp) => {
    await page.getByLabel('Path of the final mix').fill(mix);
    await page.getByRole('button', { name: 'Write review movie' }).click();
    await expect(page.getByText(says).first()).toBeVisible();
  };
  await laid(sound('other.wav', 2, 5), /does not sound like the guide sound of this cut/);
  await laid(sound('mix.wav', 2, 1), /The mix begins 2(\.\d+)? s before the cut/);
});
