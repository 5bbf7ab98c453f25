import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { RATES } from '@gemello/core';
import { type APIRequestContext, expect, test } from '@playwright/test';
import { writeClip } from '../media/test/footage';
import { untilIdle } from './demo';

const LIST = `TITLE: SMALL
001  A001     V     C        01:00:00:10 01:00:01:16 10:00:00:00 10:00:01:06
* FROM CLIP NAME: A001C001
002  AX       V     C        00:00:00:00 00:00:01:00 10:00:01:06 10:00:02:06
* FROM CLIP NAME: Title END
`;

let folder: string;
test.beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-'));
  writeClip(path.join(folder, 'cards', 'A001C001.mov'), {
    writer: 'intra-8bit',
    rate: RATES['24'],
    start: '01:00:00:00',
    reel: 'A001',
    frames: 60,
  });
  writeClip(path.join(folder, 'private', 'secret.mov'), {
    writer: 'intra-8bit',
    rate: RATES['24'],
    start: '01:00:00:00',
    reel: 'X',
    frames: 10,
  });
});
test.afterAll(() => rmSync(folder, { recursive: true }));

async function newJob(request: APIRequestContext, title = 'Small'): Promise<string> {
  const { id } = await (await request.post('/api/jobs', { data: { title } })).json();
  const { list } = await (await request.put(`/api/jobs/${id}/lists?name=small.edl`, { data: Buffer.from(LIST) })).json();
  await request.post(`/api/jobs/${id}/lists/${list}`, { data: { reading: { rate: '24' }, as: 'cut' } });
  await request.post(`/api/jobs/${id}/volumes`, { data: { path: path.join(folder, 'cards') } });
  await untilIdle(request, id);
  return id;
}
const ledger = async (request: APIRequestContext, job: string) =>
  (await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json()).rows;

test('media is reachable only below volumes that were added', async ({ request }) => {
  const job = await newJob(request);
  const picture = (file: string) => request.get(`/api/jobs/${job}/picture?side=original&frame=3&width=64&path=${encodeURIComponent(file)}`);
  const good = await picture(path.join(folder, 'cards', 'A001C001.mov'));
  expect([good.status(), good.headers()['content-type']]).toEqual([200, 'image/jpeg']);
  for (const file of [
    path.join(folder, 'private', 'secret.mov'),
    path.join(folder, 'cards', '..', 'private', 'secret.mov'),
    '/etc/hostname',
  ])
    expect((await picture(file)).status()).toBe(404);
});

test('foreign names and pages are refused', async ({ request }) => {
  expect((await request.get('/api/jobs', { headers: { host: 'evil.example' } })).status()).toBe(403);
  expect((await request.post('/api/jobs', { data: { title: 'x' }, headers: { origin: 'http://evil.example' } })).status()).toBe(403);
});

test('every answer has headers that keep others out, and a page runs no script but those of this server', async ({ request, page }) => {
  const api = await request.get('/api/jobs');
  expect(api.headers()).toMatchObject({ 'x-content-type-options': 'nosniff', 'referrer-policy': 'no-referrer', 'x-frame-options': 'DENY' });
  const job = await newJob(request, '<script>document.title = "taken"</script>');
  const policies = await Promise.all(
    ['/', `/job/${job}/proof`].map(async (at) => (await request.get(at)).headers()['content-security-policy']),
  );
  expect(policies[0]).toMatch(/script-src 'self'( 'sha256-[\w+/=]+')+; .*frame-ancestors 'none'/);
  expect(policies[1]).toBe(policies[0]);
  const refused: string[] = [];
  page.on('console', (said) => said.text().includes('Content Security Policy') && refused.push(said.text()));
  for (const stage of ['turnover', 'originals', 'pairing', 'proof', 'grade', 'return', 'activity']) {
    await page.goto(`/job/${job}/${stage}`);
    await page.getByRole('navigation', { name: 'Stages' }).waitFor();
  }
  await page.waitForTimeout(500);
  expect(refused).toEqual([]);
  // What is put into the page does not run.
  await page.evaluate(() => {
    const script = document.createElement('script');
    script.textContent = 'window.taken = true';
    document.body.append(script);
  });
  expect(await page.evaluate(() => 'taken' in window)).toBe(false);
  const secret = await request.post('/api/jobs', { data: { title: 'x' }, headers: { origin: 'null' } });
  expect(secret.status()).toBe(403);
  const large = await request.post('/api/jobs', {
    data: Buffer.alloc(65 * 1024 ** 2, 32),
    headers: { 'content-type': 'application/json' },
  });
  expect(large.status()).toBe(413);
});

test('bad input gets a message that says what to do', async ({ request }) => {
  const job = await newJob(request);
  const message = async (sent: Promise<{ status(): number; json(): Promise<{ message: string }> }>) => {
    const answer = await sent;
    return `${answer.status()} ${(await answer.json()).message}`;
  };
  const { list } = await (await request.put(`/api/jobs/${job}/lists?name=a.edl`, { data: Buffer.from('hello') })).json();
  expect(await message(request.post(`/api/jobs/${job}/lists/${list}`, { data: { reading: {}, as: 'cut' } }))).toMatch(
    /^422 .*a\.edl is not a list/,
  );
  expect(await message(request.put(`/api/jobs/${job}/lists?name=a.edl`, { data: Buffer.alloc(129e6, 'a') }))).toMatch(
    /^413 The list is larger than 128 MB/,
  );
  expect(await message(request.post(`/api/jobs/${job}/volumes`, { data: { path: '/nowhere' } }))).toMatch(
    /^404 There is no folder \/nowhere/,
  );
  expect(await message(request.post(`/api/jobs/${job}/reference`, { data: { path: path.join(folder, 'none.mov') } }))).toMatch(
    /^404 There is no file/,
  );
  expect(await message(request.post(`/api/jobs/${job}/volumes`, { data: { path: folder } }))).toMatch(/^409 .*one inside the other/);
  expect(
    await message(
      request.post(`/api/jobs/${job}/decisions`, {
        data: { decisions: [{ kind: 'slip', event: 'V9/9', original: '/x.mov', sourceStartFrame: 1 }] },
      }),
    ),
  ).toMatch(/^422 The list has no event V9\/9/);
  expect(
    await message(
      request.post(`/api/jobs/${job}/decisions`, {
        data: { decisions: [{ kind: 'slip', event: 'V1/1', original: '/x.mov', sourceStartFrame: 0.5 }] },
      }),
    ),
  ).toMatch(/^400 /);
  expect(await message(request.get('/api/jobs/none/ledger'))).toMatch(/^404 There is no such job/);
  expect((await ledger(request, job))[0].state).toBe('proposed');
});

test('a volume that vanishes leaves its pairs away, and brings them back', async ({ request }) => {
  const job = await newJob(request);
  const [row] = await ledger(request, job);
  await request.post(`/api/jobs/${job}/decisions`, {
    data: { decisions: [{ kind: 'pair', event: row.id, original: row.chosen.path, sourceStartFrame: row.chosen.sourceStartFrame }] },
  });
  const scan = async () => {
    await request.post(`/api/jobs/${job}/tasks`, { data: { kind: 'scan', volumes: null } });
    await untilIdle(request, job);
    return (await ledger(request, job))[0].state;
  };
  expect(await scan()).toBe('paired');
  renameSync(path.join(folder, 'cards'), path.join(folder, 'unplugged'));
  expect(await scan()).toBe('away');
  renameSync(path.join(folder, 'unplugged'), path.join(folder, 'cards'));
  expect(await scan()).toBe('paired');
});

test('a proof without a reference fails with a word, and loses nothing', async ({ request }) => {
  const job = await newJob(request);
  await request.post(`/api/jobs/${job}/tasks`, { data: { kind: 'proof', events: null } });
  await untilIdle(request, job);
  const { tasks } = await (await request.get(`/api/jobs/${job}/activity`)).json();
  expect(tasks[0]).toMatchObject({ kind: 'proof', state: 'failed', message: expect.stringContaining('no reference movie') });
});

test('a list only needs no rendering, and can be downloaded', async ({ request }) => {
  const job = await newJob(request);
  await request.post(`/api/jobs/${job}/tasks`, { data: { kind: 'return', handles: 0, title: 'LINKED', render: false } });
  await untilIdle(request, job);
  const text = await (await request.get(`/api/jobs/${job}/file?name=LINKED.edl`)).text();
  expect(text).toContain('TITLE: LINKED');
  expect((await request.get(`/api/jobs/${job}/file?name=../../gemello.db`)).status()).toBe(404);
});

test('nothing is written to a volume', () => {
  expect(readdirSync(path.join(folder, 'cards'))).toEqual(['A001C001.mov']);
});

test('an upload that is no movie is refused and not kept as reference', async ({ request }) => {
  const job = await newJob(request);
  const answer = await request.put(`/api/jobs/${job}/reference?name=../../evil.mov`, { data: Buffer.from('not a movie') });
  expect(answer.status()).toBe(422);
  expect((await (await request.get(`/api/jobs/${job}`)).json()).reference).toBeNull();
});

/** Three seconds of which some are a tone, as Broadcast Wave that begins a second before the cut (EBU Tech 3285, as FFmpeg writes it). */
function guideAt(file: string, loud: string): string {
  const marked = ['-write_bext', '1', '-metadata', `time_reference=${48_000 * 35_999}`];
  const heard = `aevalsrc='if(${loud},0.9*sin(2*PI*1000*t),0)':s=48000:d=3`;
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', heard, '-c:a', 'pcm_s16le', ...marked, file]);
  return file;
}
/** How loud the first two seconds of the guide are, each. */
async function loudness(request: APIRequestContext, job: string): Promise<boolean[]> {
  const bytes = await (await request.get(`/api/jobs/${job}/sound?from=guide&piece=0`)).body();
  const piece = new Int16Array(new Uint8Array(bytes).buffer);
  return [0, 1].map((second) => Math.max(...piece.subarray(2 * (48_000 * second + 100), 2 * (48_000 * second + 200))) > 20_000);
}

test('guide sound lies by its timecode, is heard from its first sample on, and can be removed', async ({ request }) => {
  const job = await newJob(request);
  const put = await request.put(`/api/jobs/${job}/guide?name=guide.wav`, {
    data: readFileSync(guideAt(path.join(folder, 'guide.wav'), 'gte(t,1)')),
  });
  expect(put.status()).toBe(200);
  const { conform } = await (await request.get(`/api/jobs/${job}/ledger?of=conform`)).json();
  expect(conform.guide.lies).toEqual({ at: 35_999, by: 'timecode' });
  expect(await loudness(request, job)).toEqual([false, true]);
  expect((await request.delete(`/api/jobs/${job}/guide`)).status()).toBe(200);
  expect((await (await request.get(`/api/jobs/${job}`)).json()).guide).toBeNull();
  const refused = await request.put(`/api/jobs/${job}/guide?name=none.wav`, { data: Buffer.from('no sound') });
  expect(refused.status()).toBe(422);
});

test('guide sound that was replaced under its name is heard as it is now, after a scan', async ({ request }) => {
  const job = await newJob(request);
  const file = guideAt(path.join(folder, 'mix.wav'), 'gte(t,1)');
  expect((await request.post(`/api/jobs/${job}/guide`, { data: { path: file } })).status()).toBe(200);
  expect(await loudness(request, job)).toEqual([false, true]);
  guideAt(file, 'lt(t,1)');
  await request.post(`/api/jobs/${job}/tasks`, { data: { kind: 'scan', volumes: null } });
  await untilIdle(request, job);
  expect(await loudness(request, job)).toEqual([true, false]);
});

test('every stage can be read by a screen reader, in dark and in light', async ({ request, page }) => {
  const job = await newJob(request, 'Seen by everyone');
  writeFileSync(path.join(folder, 'unused.txt'), '');
  for (const theme of ['dusk', 'noon']) {
    await page.addInitScript((name) => localStorage.setItem('gemello-theme', name), theme);
    for (const stage of ['turnover', 'originals', 'pairing', 'proof', 'grade', 'return', 'activity']) {
      await page.goto(`/job/${job}/${stage}`);
      await page.getByRole('navigation', { name: 'Stages' }).waitFor();
      await page.waitForTimeout(400);
      const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
      expect({
        theme,
        stage,
        violations: violations.map(
          (v) =>
            `${v.id}: ${v.nodes
              .slice(0, 3)
              .map((n) => n.html.slice(0, 160))
              .join(' | ')}`,
        ),
      }).toEqual({ theme, stage, violations: [] });
    }
  }
});

test('keys move through events, frames and stages, and the address follows', async ({ request, page }) => {
  const job = await newJob(request, 'By keyboard');
  await page.goto(`/job/${job}/pairing`);
  await page.getByTestId('ledger').locator('[data-number="001"]').waitFor();
  await page.keyboard.press('ArrowDown');
  const second = (await ledger(request, job))[1];
  await expect(page).toHaveURL(new RegExp(`event=${second.id}`));
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('i');
  await expect(page).toHaveURL(/frame=864000$/);
  await page.keyboard.press('ArrowRight');
  await expect(page).toHaveURL(/frame=864001$/);
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('ledger').locator('[data-number="001"]')).toHaveAttribute('data-state', 'paired');
  await page.keyboard.press('z');
  await expect(page.getByTestId('ledger').locator('[data-number="001"]')).toHaveAttribute('data-state', 'proposed');
  // A filter that has the focus takes Enter for itself: nothing is accepted.
  await page.getByTestId('ledger').locator('[data-number="001"]').click();
  await page.getByRole('button', { name: /^all \d+/ }).focus();
  await page.keyboard.press('Enter');
  await page.waitForTimeout(500);
  await expect(page.getByTestId('ledger').locator('[data-number="001"]')).toHaveAttribute('data-state', 'proposed');
  await page.keyboard.press('Escape');
  await page.keyboard.press('6');
  await expect(page).toHaveURL(/\/return/);
  await page.keyboard.press('?');
  await expect(page.getByRole('heading', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('grade');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/grade/);
  await page.goBack();
  await expect(page).toHaveURL(/\/return/);
});

test('Undo takes back what was decided on this page, not what another decided after it', async ({ request, page }) => {
  const job = await newJob(request, 'Two at once');
  await page.goto(`/job/${job}/pairing`);
  const event = (number: string) => page.getByTestId('ledger').locator(`[data-number="${number}"]`);
  await event('001').click();
  await page.keyboard.press('Enter');
  await expect(event('001')).toHaveAttribute('data-state', 'paired');
  const id = (await ledger(request, job))[1]?.id;
  await request.post(`/api/jobs/${job}/decisions`, { data: { decisions: [{ kind: 'exempt', event: id, exempt: true }] } });
  await expect(event('002')).toHaveAttribute('data-state', 'exempt');
  await page.reload();
  await expect(event('002')).toHaveAttribute('data-state', 'exempt');
  await page.keyboard.press('z');
  await expect(event('001')).toHaveAttribute('data-state', 'proposed');
  await page.keyboard.press('z');
  await expect(page.getByText('Nothing that was decided on this page is left to undo.')).toBeVisible();
  await expect(event('002')).toHaveAttribute('data-state', 'exempt');
  await page.keyboard.press('Shift+z');
  await expect(event('001')).toHaveAttribute('data-state', 'paired');
});

test('the focus stays near a button that has done its work, and the row that an address names is in sight', async ({ request, page }) => {
  const job = await newJob(request, 'By focus');
  const last = (await ledger(request, job)).at(-1);
  await page.goto(`/job/${job}/pairing?event=${last.id}`);
  await expect(page.getByTestId('ledger').locator(`[data-event="${last.id}"]`)).toBeInViewport();
  await page.getByTestId('ledger').locator('[data-number="001"]').click();
  await page.getByRole('button', { name: 'Accept pair' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Accept pair' })).toHaveCount(0);
  await expect.poll(() => page.evaluate(() => document.activeElement?.tagName)).not.toBe('BODY');
});

test('of a long desk only what is looked at is asked for, and what is looked for is found in all of it', async ({ request, page }) => {
  // More than one page of it, besides what other tests put there.
  const ids: string[] = [];
  for (let n = 0; n < 130; n++) ids.push((await (await request.post('/api/jobs', { data: { title: `Pier ${n}` } })).json()).id);
  const asked: URLSearchParams[] = [];
  page.on('request', (r) => r.url().includes('/api/jobs?') && asked.push(new URL(r.url()).searchParams));
  await page.goto('/');
  await page.getByLabel('Find a job').fill('PIER');
  const count = page.getByRole('heading', { level: 2 });
  await expect(count).toContainText(/^130 /);
  const lines = page.getByTestId('job');
  await expect(lines.first()).toContainText('Pier 129');
  expect(asked.map((a) => a.get('page')).filter((n) => n !== '0')).toEqual([]);
  await lines.first().evaluate((line) => line.closest('div.overflow-y-auto')?.scrollTo(0, 1e6));
  await expect(lines.last()).toContainText('Pier 0');
  expect(new Set(asked.map((a) => a.get('page')))).toEqual(new Set(['0', '1']));
  await page.getByLabel('Find a job').fill('pier 12');
  await expect(count).toContainText('12 of 1');
  await expect(lines.first(), 'it begins at the top again').toContainText('Pier 129');
  await page.getByLabel('Find a job').fill('pier 120 and more');
  await expect(page.getByText('No job has this in its name or its cut.')).toBeVisible();
  for (const id of ids) await request.patch(`/api/jobs/${id}`, { data: { deleted: true } });
});

test('jobs on the desk are found, renamed, deleted and brought back', async ({ request, page }) => {
  const job = await newJob(request, 'Harbour cut');
  await newJob(request, 'Harbour cut');
  await page.goto('/');
  await page.getByLabel('Find a job').fill('harbour');
  const lines = page.getByTestId('job');
  await expect(lines).toHaveCount(2);
  const line = lines.filter({ has: page.locator(`a[href*="${job}"]`) });
  // What was counted behind the desk comes by itself.
  await expect(line).toContainText('1 proposed');
  await line.getByRole('button', { name: 'Rename Harbour cut' }).click();
  await page.getByLabel('New name for Harbour cut').fill('Harbour cut, second version');
  await page.keyboard.press('Enter');
  await expect(line).toContainText('Harbour cut, second version');
  await line.getByRole('button', { name: /^Delete/ }).click();
  await expect(lines).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(lines).toHaveCount(2);
});

test('a job that was deleted says so where it is open, and is brought back from there or from among the deleted', async ({
  request,
  page,
  context,
}) => {
  const job = await newJob(request, 'Put away');
  await page.goto(`/job/${job}/pairing`);
  await expect(page.getByRole('heading', { name: 'Put away' })).toBeVisible();
  const deleted = page.getByRole('alert');
  await expect(deleted).toHaveCount(0);
  const remove = () => request.patch(`/api/jobs/${job}`, { data: { deleted: true } });
  await remove();
  await expect(deleted).toContainText(/^This job is deleted\. It is kept until \d+ \w+ 20\d\d\./);
  await deleted.getByRole('button', { name: 'Bring back' }).click();
  await expect(deleted).toHaveCount(0);

  await remove();
  const desk = await context.newPage();
  await desk.goto('/');
  await desk.getByRole('button', { name: /^Show \d+ deleted$/ }).click();
  await expect(desk.getByRole('heading', { name: /deleted jobs?$/ })).toBeVisible();
  await desk.getByRole('button', { name: 'Bring back Put away' }).click();
  await expect(desk.getByRole('button', { name: 'Bring back Put away' })).toHaveCount(0);
  await desk.getByRole('button', { name: 'Back to the desk' }).click();
  await expect(desk.getByTestId('job').filter({ hasText: 'Put away' })).toBeVisible();
  await expect(deleted).toHaveCount(0);
});

test('a stage that cannot be drawn says so, and the others go on', async ({ request, page }) => {
  const job = await newJob(request);
  // As a fault of ours would: what the contract takes on trust is not there.
  await page.route(new RegExp(`/api/jobs/${job}$`), async (route) => {
    const answer = await route.fetch();
    await route.fulfill({ json: { ...(await answer.json()), rules: null } });
  });
  await page.goto(`/job/${job}/pairing`);
  const main = page.getByRole('main');
  await expect(main.getByRole('alert')).toContainText('This cannot be shown');
  await page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('button', { name: /^originals/i })
    .click();
  await expect(main.getByRole('button', { name: /A001C001/ }).first()).toBeVisible();
  await expect(main.getByRole('alert')).toHaveCount(0);
});

test('a double click starts one job', async ({ request, page }) => {
  await page.goto('/');
  await page.getByLabel('Name of the new job').fill('Clicked twice');
  await page.getByRole('button', { name: 'Start a job' }).dblclick();
  await page.waitForURL(/\/turnover$/);
  const { found } = await (await request.get('/api/jobs?words=Clicked%20twice')).json();
  expect(found).toBe(1);
});
