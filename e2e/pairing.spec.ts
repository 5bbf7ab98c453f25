import { execFileSync } from 'node:child_process';
import { mkdtempSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { RATES } from '@gemello/core';
import { type APIRequestContext, expect, test } from '@playwright/test';
import { writeClip } from '../media/test/footage';
import { untilIdle } from './demo';

/** A reel an hour off, two exports of one shot, and a clip that nothing leads to (TRADE.md, matching). */
const LIST = `TITLE: HOURS
001  A001     V     C        10:00:00:10 10:00:01:10 10:00:00:00 10:00:01:00
* FROM CLIP NAME: A001C001
002  A001     V     C        10:00:20:05 10:00:21:05 10:00:01:00 10:00:02:00
* FROM CLIP NAME: A001C002
003  B001     V     C        12:00:00:05 12:00:01:05 10:00:02:00 10:00:03:00
* FROM CLIP NAME: B001C001
004  ZZ99     V     C        09:00:00:00 09:00:01:00 10:00:03:00 10:00:04:00
* FROM CLIP NAME: morning fog
`;

let folder: string;
test.beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'gemello-pairs-'));
  const clip = (file: string, reel: string, start: string, first = 0) =>
    writeClip(path.join(folder, 'CARDS', file), { writer: 'intra-8bit', rate: RATES['24'], reel, start, frames: 48 }, first);
  clip('A001/A001C001.mov', 'A001', '11:00:00:00');
  clip('A001/A001C002.mov', 'A001', '11:00:20:00', 100);
  clip('B001/B001C001.mov', 'B001', '12:00:00:00', 200);
  clip('EXPORTS/B001C001.mov', 'B001', '12:00:00:00', 300);
});
test.afterAll(() => rmSync(folder, { recursive: true }));

async function newJob(request: APIRequestContext, cards = 'CARDS'): Promise<string> {
  const { id } = await (await request.post('/api/jobs', { data: { title: 'Hours' } })).json();
  const { list } = await (await request.put(`/api/jobs/${id}/lists?name=hours.edl`, { data: Buffer.from(LIST) })).json();
  await request.post(`/api/jobs/${id}/lists/${list}`, { data: { reading: { rate: '24' }, as: 'cut' } });
  await request.post(`/api/jobs/${id}/volumes`, { data: { path: path.join(folder, cards) } });
  await untilIdle(request, id);
  return id;
}

test('a reel an hour off is one card, settled with one key, and undone with one', async ({ request, page }) => {
  const job = await newJob(request);
  await page.goto(`/job/${job}/pairing`);
  const row = (n: string) => page.getByTestId('ledger').locator(`[data-number="${n}"]`);
  await expect(row('001')).toHaveAttribute('data-state', 'doubtful');
  const cause = page.getByRole('region', { name: 'One cause for many events' });
  await expect(cause).toContainText('Reel A001');
  await expect(cause).toContainText('+01:00:00:00');
  await expect(cause).toContainText('2 events, told by 2 clips');
  await cause.getByRole('button', { name: 'Show its events' }).click();
  await expect(row('003')).toHaveCount(0);
  await page.keyboard.press('Escape');
  const before = await row('001').boundingBox();
  await page.keyboard.press('t');
  for (const n of ['001', '002']) await expect(row(n)).toHaveAttribute('data-state', 'proposed');
  await expect(row('003')).toHaveAttribute('data-state', 'contested');
  // It stays until it is closed: what a person points at below has not moved.
  await expect(cause).toContainText('Applied to 2 events');
  await expect(cause.getByRole('button')).toHaveText(['Close']);
  expect(await row('001').boundingBox()).toEqual(before);
  await expect(page.getByTestId('bench')).toContainText('11:00:00:10 is frame 10, shifted by +01:00:00:00');
  await page.keyboard.press('z');
  await expect(row('001')).toHaveAttribute('data-state', 'doubtful');
  await cause.getByRole('button', { name: 'Apply to 2 events' }).click();
  await cause.getByRole('button', { name: 'Close' }).click();
  await expect(cause).toHaveCount(0);
});

test('rows stay where they are while they are selected and accepted, and a second click does nothing else', async ({ request, page }) => {
  const job = await newJob(request);
  await page.goto(`/job/${job}/pairing`);
  const row = (n: string) => page.getByTestId('ledger').locator(`[data-number="${n}"]`);
  await page.getByRole('button', { name: 'Apply to 2 events' }).click();
  await expect(row('001')).toHaveAttribute('data-state', 'proposed');
  const before = await row('002').boundingBox();
  await row('001').click({ modifiers: ['Control'] });
  const bulk = page.getByRole('region', { name: 'Selected events' });
  await expect(bulk).toContainText('1 event selected');
  expect(await row('002').boundingBox()).toEqual(before);
  await bulk.getByRole('button', { name: 'Clear selection' }).click();
  const all = page.getByRole('button', { name: /^Accept all proposed/ });
  await all.dblclick();
  await expect(all).toHaveText('Accept all proposed (0)');
  await expect(all).toBeDisabled();
  await expect(row('002')).toHaveAttribute('data-state', 'paired');
  expect(await row('002').boundingBox()).toEqual(before);
  const { decisions } = await (await request.get(`/api/jobs/${job}/activity`)).json();
  expect(decisions.map((d: { text: string }) => d.text)).toEqual(['2 events: paired', expect.stringMatching(/^Reel A001: /)]);
});

test('a filter that is pressed while events are settled is where the pointer was', async ({ request, page }) => {
  const job = await newJob(request);
  await page.goto(`/job/${job}/pairing`);
  const row = (n: string) => page.getByTestId('ledger').locator(`[data-number="${n}"]`);
  const cause = page.getByRole('region', { name: 'One cause for many events' });
  await cause.getByRole('button', { name: 'Refuse' }).click();
  await expect(cause).toContainText('Refused');
  const { rows } = await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json();
  const pair = async (n: string) => {
    const { id: event, chosen } = rows.find((r: { number: string }) => r.number === n);
    const decision = { kind: 'pair', event, original: chosen.path, sourceStartFrame: chosen.sourceStartFrame };
    await request.post(`/api/jobs/${job}/decisions`, { data: { decisions: [decision] } });
    await expect(row(n)).toHaveAttribute('data-state', 'short');
  };
  await pair('001');
  const filter = page.getByRole('button', { name: /[12] short$/ });
  await filter.hover();
  await page.mouse.down();
  // Somebody else settles the last doubtful one meanwhile.
  await pair('002');
  await page.mouse.up();
  await expect(filter).toHaveAttribute('aria-pressed', 'true');
  await expect(row('003')).toHaveCount(0);
  await expect(page.getByRole('button', { name: /0 doubtful$/ })).toBeDisabled();
});

test('a cause is refused, or another shift is typed', async ({ request, page }) => {
  const job = await newJob(request);
  await page.goto(`/job/${job}/pairing`);
  const cause = page.getByRole('region', { name: 'One cause for many events' });
  const row = page.getByTestId('ledger').locator('[data-number="001"]');
  await cause.getByRole('button', { name: 'Refuse' }).click();
  await expect(cause).toContainText('Refused: it is not proposed again');
  await expect(row).toHaveAttribute('data-state', 'doubtful');
  await page.keyboard.press('z');
  await cause.getByRole('button', { name: 'Another shift' }).click();
  await cause.getByLabel('Shift of source timecode').fill('+01:00:00:02');
  await cause.getByRole('button', { name: 'Shift', exact: true }).click();
  await expect(row).toHaveAttribute('data-state', 'proposed');
  const { rows } = await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json();
  expect(rows[0].chosen.sourceStartFrame).toBe(12);
});

test('what other rules would change is shown before they are applied', async ({ request, page }) => {
  const job = await newJob(request);
  await page.goto(`/job/${job}/pairing`);
  const rules = page.getByRole('region', { name: 'Rules before they are applied' });
  await page.locator('label', { hasText: 'Rules' }).locator('select').selectOption('Names alone');
  await expect(rules).toContainText('2 events would stand otherwise');
  await expect(rules).toContainText('doubtful 2 → 0');
  await rules.getByRole('button', { name: 'Cancel' }).click();
  const row = page.getByTestId('ledger').locator('[data-number="001"]');
  await expect(row).toHaveAttribute('data-state', 'doubtful');
  await page.locator('label', { hasText: 'Rules' }).locator('select').selectOption('Names alone');
  await rules.getByRole('button', { name: 'Apply to the cut' }).click();
  await expect(row).toHaveAttribute('data-state', 'short');
  await expect(rules).toHaveCount(0);
  // Rules of one's own are chosen again by their name.
  await page.getByRole('button', { name: 'Edit', exact: true }).click();
  await rules.getByLabel('Timecode in line 1').selectOption('overlaps');
  await rules.getByLabel('Name of these rules').fill('names on the clock');
  await rules.getByRole('button', { name: 'Apply to the cut' }).click();
  await expect(rules).toHaveCount(0);
  await page.locator('label', { hasText: 'Rules' }).locator('select').selectOption('Card and clock');
  await rules.getByRole('button', { name: 'Apply to the cut' }).click();
  await expect(row).toHaveAttribute('data-state', 'doubtful');
  await page.locator('label', { hasText: 'Rules' }).locator('select').selectOption('names on the clock');
  await expect(rules.getByLabel('Name of these rules')).toHaveValue('names on the clock');
});

test('the next candidate is chosen, compared and taken by keys; another original by hand, with what differs', async ({ request, page }) => {
  const job = await newJob(request);
  await page.goto(`/job/${job}/pairing`);
  const row = (n: string) => page.getByTestId('ledger').locator(`[data-number="${n}"]`);
  await row('003').click();
  const candidates = page.getByTestId('bench').locator('[data-candidate]');
  await expect(candidates).toHaveCount(2);
  // What is looked at stands in the viewer, which plays and steps here as under Proof.
  const viewer = page.getByTestId('bench').getByRole('region', { name: 'Viewer' });
  await viewer.locator('label', { hasText: /^B/ }).locator('select').selectOption('candidate');
  await expect(viewer.getByRole('img', { name: /and Candidate [A-Z0-9]+\.mov: beside/ })).toBeVisible();
  await expect(viewer).toHaveAttribute('data-drawn', /\d+/);
  await page.keyboard.press('n');
  await expect(candidates.nth(1)).toHaveAttribute('aria-current', 'true');
  const second = await candidates.nth(1).getAttribute('data-candidate');
  await page.keyboard.press('c');
  await expect(page.getByRole('button', { name: 'Flick' })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(row('003')).toHaveAttribute('data-state', 'paired');
  const { rows } = await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json();
  expect(rows[2].acceptedPath).toBe(second);

  await row('004').click();
  await page.getByLabel('Find another original').fill('a001c002');
  const another = page.getByRole('region', { name: 'Another original' });
  await another.getByRole('button', { name: /A001C002/ }).click();
  await expect(another).toContainText('It differs: reel: ZZ99 is not A001');
  await another.getByRole('button', { name: 'Pair all the same' }).click();
  await expect(row('004')).toHaveAttribute('data-state', 'paired');
  const { decisions } = await (await request.get(`/api/jobs/${job}/activity`)).json();
  expect(decisions[0].why).toContain('ZZ99 is not A001');
});

test('several events are selected by keys and settled at once, and the ledger stands in groups', async ({ request, page }) => {
  const job = await newJob(request);
  await page.goto(`/job/${job}/pairing`);
  await page.getByTestId('ledger').locator('[data-number="001"]').click();
  await page.keyboard.press('Shift+ArrowDown');
  const bulk = page.getByRole('region', { name: 'Selected events' });
  await expect(bulk).toContainText('2 events selected');
  await bulk.getByRole('button', { name: 'No original needed (2)' }).click();
  // The message that confirms it stands in nobody's way; its button can be pressed.
  const pointer = (of: string) =>
    page
      .locator(of)
      .first()
      .evaluate((e) => getComputedStyle(e).pointerEvents);
  expect([await pointer('[data-sonner-toast]'), await pointer('[data-sonner-toast] button')]).toEqual(['none', 'auto']);
  for (const n of ['001', '002'])
    await expect(page.getByTestId('ledger').locator(`[data-number="${n}"]`)).toHaveAttribute('data-state', 'exempt');
  await page.getByLabel('Group by').selectOption('reel');
  await expect(page.getByRole('heading', { name: /A001\s*2 events/ })).toBeVisible();
  await page.getByRole('button', { name: 'Select the 1 event of B001' }).click();
  await bulk.getByRole('button', { name: 'Take the first candidate (1)' }).click();
  await expect(page.getByTestId('ledger').locator('[data-number="003"]')).toHaveAttribute('data-state', 'paired');
});

test('what is selected while a decision about others is on its way stays selected', async ({ request, page }) => {
  const job = await newJob(request);
  await page.goto(`/job/${job}/pairing`);
  const row = (n: string) => page.getByTestId('ledger').locator(`[data-number="${n}"]`);
  let release = () => {};
  const held = new Promise<void>((resolve) => {
    release = resolve;
  });
  await page.route('**/decisions', async (route) => {
    await held;
    await route.continue();
  });
  await row('004').click({ modifiers: ['Control'] });
  const bulk = page.getByRole('region', { name: 'Selected events' });
  await bulk.getByRole('button', { name: 'No original needed (1)' }).click();
  await row('003').click({ modifiers: ['Control'] });
  await expect(bulk).toContainText('2 events selected');
  release();
  await expect(row('004')).toHaveAttribute('data-state', 'exempt');
  await expect(bulk).toContainText('1 event selected');
  await expect(row('003')).toHaveAttribute('data-selected', 'true');
});

test('originals that moved are relinked from where one of them lies now', async ({ request, page }) => {
  const job = await newJob(request);
  const rows = async () => (await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json()).rows;
  const pairs = (await rows())
    .filter((r: any) => r.chosen && r.number !== '003')
    .map((r: any) => ({ kind: 'pair', event: r.id, original: r.chosen.path, sourceStartFrame: 10 }));
  expect(pairs).toHaveLength(2);
  await request.post(`/api/jobs/${job}/decisions`, { data: { decisions: pairs } });
  renameSync(path.join(folder, 'CARDS', 'A001'), path.join(folder, 'CARDS', 'MOVED'));
  try {
    const { id: volume } = (await (await request.get(`/api/jobs/${job}`)).json()).volumes[0];
    await request.post(`/api/jobs/${job}/tasks`, { data: { kind: 'scan', volumes: [volume] } });
    await untilIdle(request, job);
    expect((await rows()).slice(0, 2).map((r: any) => r.state)).toEqual(['away', 'away']);
    await page.goto(`/job/${job}/pairing`);
    await page.getByTestId('ledger').locator('[data-number="001"]').click();
    // They are known again by name, size, timecode and length, whoever looks for them.
    const cause = page.getByRole('region', { name: 'One cause for many events' });
    await expect(cause).toContainText('2 missing originals lie elsewhere now');
    await expect(cause).toContainText('MOVED');
    const relink = page.getByRole('region', { name: 'Relink' });
    await relink.getByLabel('Where this original, or its folder, lies now').fill(path.join(folder, 'CARDS', 'MOVED', 'A001C001.mov'));
    await relink.getByRole('button', { name: 'Show what follows' }).click();
    await expect(relink).toContainText('2 missing originals are there');
    await relink.getByRole('button', { name: 'Relink 2 originals' }).click();
    for (const n of ['001', '002'])
      await expect(page.getByTestId('ledger').locator(`[data-number="${n}"]`)).toHaveAttribute('data-state', 'paired');
  } finally {
    renameSync(path.join(folder, 'CARDS', 'MOVED'), path.join(folder, 'CARDS', 'A001'));
  }
});

test('what is offline is searched for in a folder that was never scanned, and brought in from there', async ({ request, page }) => {
  const job = await newJob(request, path.join('CARDS', 'A001'));
  await page.goto(`/job/${job}/pairing`);
  const row = (n: string) => page.getByTestId('ledger').locator(`[data-number="${n}"]`);
  await row('003').click();
  await expect(row('003')).toHaveAttribute('data-state', 'unpaired');
  await expect(page.getByRole('region', { name: 'Used by' })).toContainText('hours.edl');
  await page.getByRole('button', { name: 'Search for offline' }).click();
  const search = page.getByRole('region', { name: 'Search for what is offline' });
  await search.getByLabel('Folder or drive to look through').fill(path.join(folder, 'CARDS'));
  await search.getByRole('button', { name: 'Search', exact: true }).click();
  await expect(search).toContainText('2 files found for 1 offline event; 1 has none there');
  await expect(search).toContainText('by its name, for 003');
  await search
    .getByRole('listitem')
    .filter({ hasText: path.join('CARDS', 'B001') })
    .getByRole('button', { name: 'Add as a volume' })
    .first()
    .click();
  await expect(row('003')).toHaveAttribute('data-state', 'proposed');
});

test('pictures are compared with the reference, and settle what names and timecode leave open', async ({ request, page }) => {
  const reference = path.join(folder, 'reference.mov');
  // An hour aside of what the list says, an hour aside, the second of two exports, and what no original shows.
  const shown = [
    ['A001/A001C001.mov', 10],
    ['A001/A001C002.mov', 5],
    ['EXPORTS/B001C001.mov', 5],
  ] as const;
  const cut = shown.map(([, from], i) => `[${i}]trim=start_frame=${from}:end_frame=${from + 24},setpts=PTS-STARTPTS[p${i}]`).join(';');
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-y', ...shown.flatMap(([file]) => ['-i', path.join(folder, 'CARDS', file)])],
    ...['-filter_complex', `${cut};[p0][p1][p2]concat=n=3,tpad=stop=24:stop_mode=add:color=black`],
    ...['-timecode', '10:00:00:00', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', reference],
  ]);
  const job = await newJob(request);
  expect((await request.post(`/api/jobs/${job}/reference`, { data: { path: reference } })).ok()).toBe(true);
  await page.goto(`/job/${job}/pairing`);
  const row = (n: string) => page.getByTestId('ledger').locator(`[data-number="${n}"]`);
  await expect(row('003')).toHaveAttribute('data-state', 'contested');
  await page.getByRole('button', { name: 'Compare pictures (4)' }).click();
  await expect(page.getByText('The picture of 3 of 4 events found among the originals')).toBeVisible();
  for (const n of ['001', '002', '003']) await expect(row(n)).toHaveAttribute('data-state', 'proposed');
  await expect(row('004')).toHaveAttribute('data-state', 'unpaired');
  await row('003').click();
  const first = page.locator('[data-candidate]').first();
  await expect(first).toHaveAttribute('data-candidate', /EXPORTS/);
  await expect(first).toContainText('agrees with the reference by');
  await row('001').click();
  await expect(page.locator('[data-candidate]').first()).toContainText('used from frame 10');
});

test('what a preference would settle is shown first, and the report holds every event', async ({ request, page }) => {
  const job = await newJob(request);
  await page.goto(`/job/${job}/pairing`);
  const row = page.getByTestId('ledger').locator('[data-number="003"]');
  await expect(row).toHaveAttribute('data-state', 'contested');
  await page.getByRole('button', { name: 'Edit', exact: true }).click();
  const rules = page.getByRole('region', { name: 'Rules before they are applied' });
  await rules.getByLabel('Of several candidates that fit').selectOption({ label: 'take those on CARDS first' });
  // Both lie on that volume: nothing is settled by it.
  await expect(rules).toContainText('Nothing would change');
  await rules.getByRole('button', { name: 'Cancel' }).click();
  // The clips of the reel that is an hour off have no such frames: they have no picture there.
  const html = await (await request.get(`/api/jobs/${job}/pairing?report=html`)).text();
  expect(html.match(/<tr>/g)).toHaveLength(1 + 4);
  expect(html.match(/src="data:image\/jpeg;base64,/g)).toHaveLength(1);
  const csv = await (await request.get(`/api/jobs/${job}/pairing?report=csv`)).text();
  expect(csv.trim().split('\r\n')).toHaveLength(1 + 4);
});
