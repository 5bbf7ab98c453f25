import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { CUT, type CutEvent, takeOf } from '@gemello/demo/scenario';
import { expect, type Page, test } from '@playwright/test';
import SmpteTimecode from 'smpte-timecode';
import { DEMO } from './demo';

/**
 * The walk of the README, on the demo's files, by someone who starts with an empty desk. What comes
 * back is checked against the scenario's own truth by way of the npm package smpte-timecode and the
 * ffprobe program, not by Gemello's code.
 */
test.describe.configure({ mode: 'serial' });

let page: Page;
let job: string;
test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
});
test.afterAll(() => page.close());

const stage = (name: string) => page.getByRole('navigation', { name: 'Stages' }).getByRole('button', { name: new RegExp(`^${name}`, 'i') });
const ledgerRow = (event: string) => page.getByTestId('ledger').locator(`[data-number="${event}"]`);
const toast = (text: string | RegExp) => expect(page.getByText(text).first()).toBeVisible();

test('a job is started on the desk', async () => {
  await page.goto('/');
  await page.getByLabel('Name of the new job').fill('My first conform');
  await page.getByRole('button', { name: 'Start a job' }).click();
  await expect(page).toHaveURL(/\/job\/[0-9a-f-]+\/turnover/);
  job = page.url().split('/')[4] ?? '';
  await expect(page.getByText('Drop the list here')).toBeVisible();
});

test('list and reference come in, and their settings are compared', async () => {
  await page.getByLabel('Choose a list').setInputFiles(DEMO.list);
  const arrival = page.getByRole('region', { name: 'Before import' });
  await expect(arrival.getByText('Edit list, CMX 3600 style')).toBeVisible();
  await arrival.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByText('SALT_YEAR_V04, from')).toBeVisible();
  await page.getByLabel('Path of the reference movie').fill(DEMO.reference);
  await page.getByRole('button', { name: 'Use as reference' }).click();
  await expect(page.getByText('640×360 h264')).toBeVisible();
  const checks = page.getByRole('region', { name: 'Settings check' });
  await expect(checks.getByRole('row', { name: /Frame rate/ })).toContainText('differs');
  await page.getByRole('button', { name: 'Change reading' }).click();
  await arrival.getByLabel('Frame rate').selectOption('23.976');
  await expect(arrival.getByRole('table', { name: 'What the settings change' })).toContainText('23.976');
  await arrival.getByRole('button', { name: 'Apply this reading' }).click();
  await expect(checks.getByText('agrees')).toHaveCount(3);
  await page.getByRole('button', { name: /ASC_SOP/ }).click();
  await expect(page.getByRole('region', { name: 'Events of the list' }).locator('[aria-pressed=true]')).toContainText('A011C002_260412');
});

test('volumes are scanned', async () => {
  await stage('Originals').click();
  for (const volume of ['SALT_01', 'SALT_02', 'ARCHIVE']) {
    await page.getByLabel('Path of a volume').fill(path.join(DEMO.media, volume));
    await page.getByRole('button', { name: 'Add volume' }).click();
    await expect(page.getByLabel('Volumes').getByText(volume)).toBeVisible();
  }
  await expect(page.getByText('30 of 30 clips')).toBeVisible();
  await page.getByLabel('Filter originals').fill('dpx s001');
  await expect(page.getByText('1 of 30 clips')).toBeVisible();
  await page.getByLabel('Filter originals').fill('');
});

test('the unambiguous pairs are accepted at once, the others are looked at', async () => {
  await stage('Pairing').click();
  await expect(ledgerRow('001')).toHaveAttribute('data-state', 'proposed');
  await page.getByRole('button', { name: /Accept all proposed \(24\)/ }).click();
  await toast('24 pairs accepted');
  await expect(ledgerRow('001')).toHaveAttribute('data-state', 'paired');

  await page.getByRole('button', { name: /1 contested/ }).click();
  await ledgerRow('026').click();
  const larger = page.locator('[data-candidate*="A013/A013C004"]');
  await expect(larger).toContainText('960×540');
  await larger.getByRole('button', { name: 'Pair with this' }).click();
  await toast(/Event 026 paired/);

  await page.getByRole('button', { name: /1 doubtful/ }).click();
  await ledgerRow('020').click();
  await expect(page.getByTestId('bench')).toContainText('the list counts from zero');
  await page.getByRole('button', { name: 'Accept pair' }).click();
  await toast(/Event 020 paired/);

  await page.getByRole('button', { name: /3 short/ }).click();
  for (const event of ['007', '011', '028']) {
    await ledgerRow(event).click();
    await expect(page.getByTestId('bench')).toContainText('at the tail');
    await page.keyboard.press('Enter');
    await toast(new RegExp(`Event ${event} paired`));
  }
  await page.getByRole('button', { name: /^all 32/ }).click();
});

test('the proof finds what was seeded, and its mends hold', async ({ request }) => {
  await stage('Proof').click();
  await page.getByRole('button', { name: 'Prove everything' }).click();
  await toast(/frames compared in/);
  const findings = page.getByTestId('findings');
  await expect(findings.locator('[data-number="019"]')).toContainText('3 frames later');
  await expect(findings.locator('[data-number="018"]')).toContainText('A012C005_260413.mov from 11:16:03:17');
  await expect(findings.locator('[data-number="022"]')).toContainText('at 125 %');
  await expect(findings.locator('[data-number="024"]')).toContainText('hardly moves');
  await expect(findings.locator('[data-number="028"]')).toContainText('Picture missing: the original lacks');
  // A low sun and slow clouds hardly move: a frame either way would look the same, and that is said.
  for (const n of ['001', '012', '029']) await expect(findings.locator(`[data-number="${n}"]`)).toContainText('slips from -1 to +1');
  await expect(findings.getByRole('button')).toHaveCount(8);

  await findings.locator('[data-number="019"]').click();
  await page.getByRole('button', { name: 'Slip by +3' }).click();
  await expect(findings.getByRole('button')).toHaveCount(7);
  await findings.locator('[data-number="018"]').click();
  await page.getByRole('button', { name: 'Pair with the picture found' }).click();
  await expect(findings.getByRole('button')).toHaveCount(6);
  // The size that this list format could not say is taken from the reference, drawn, and proved like any other.
  await findings.locator('[data-number="022"]').click();
  await page.getByRole('button', { name: 'Apply size and position' }).click();
  await expect(findings.getByRole('button')).toHaveCount(5);
  // What was mended is proved again by itself, a moment later.
  const verdicts = async () => {
    const { rows } = await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json();
    return ['019', '018', '022'].map((id) => rows.find((r: { number: string }) => r.number === id).proof);
  };
  const held = { verdict: 'same', stale: false };
  await expect.poll(verdicts).toMatchObject([held, held, held]);
});

test('a finding is put aside, accepted with a reason, and an event mended by hand; the proof is written as a report', async ({
  request,
}) => {
  await stage('Proof').click();
  const findings = page.getByTestId('findings');
  const numbers = () => findings.locator('[data-number]').evaluateAll((all) => all.map((e) => e.getAttribute('data-number')));
  await findings.locator('[data-number="024"]').click();
  const said = page.getByTestId('event-proof');
  await expect(said).toContainText('slips from -24 to +24');
  await page.getByRole('tab', { name: 'Frames around the playhead' }).click();
  await expect(page.getByTestId('strip').getByRole('listitem')).toHaveCount(9);
  await said.getByRole('button', { name: 'Look later' }).click();
  await expect(findings.locator('[data-number="024"]')).toContainText('Later: ');
  expect((await numbers()).at(-1)).toBe('024');
  await said.getByRole('button', { name: 'Accept as it is' }).click();
  await said.getByLabel('Why it is accepted').fill('A still of the plan: any frame will do');
  await said.getByRole('button', { name: 'Accept', exact: true }).click();
  await expect(findings.locator('[data-number="024"]')).toHaveCount(0);
  const log = await (await request.get(`/api/jobs/${job}/activity`)).json();
  expect(log.decisions[0]).toMatchObject({ why: 'A still of the plan: any frame will do' });

  // By hand: a slip that is wrong is found out at once, and one that takes it back makes it the same again.
  const verdict = async () => {
    const { rows } = await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json();
    return rows.find((r: { number: string }) => r.number === '013').proof;
  };
  await stage('Pairing').click();
  await ledgerRow('013').click();
  await stage('Proof').click();
  await page.getByRole('tab', { name: 'Values' }).click();
  const slip = page.getByTestId('values').getByLabel('Slip (frames)');
  for (const [frames, says] of [
    ['2', 'differs'],
    ['0', 'same'],
  ] as const) {
    await slip.fill(frames);
    await slip.press('Enter');
    await expect.poll(verdict).toMatchObject({ verdict: says, stale: false });
  }
  await page.getByRole('tab', { name: 'Findings' }).click();
  await page.getByRole('button', { name: 'Write as PDF' }).click();
  const save = page.getByRole('link', { name: 'Save the report' });
  await expect(save).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), save.click()]);
  expect(download.suggestedFilename()).toBe('SALT_YEAR_V04_proof.pdf');
  expect(
    readFileSync(await download.path())
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');
});

test('a slip is undone and done again', async ({ request }) => {
  const slip = async () =>
    (await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json()).rows.find((r: { number: string }) => r.number === '019').slip;
  await stage('Activity').click();
  const line = page.getByRole('listitem').filter({ hasText: 'Event 019: slipped to frame' });
  await line.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(line.getByRole('button', { name: 'Redo' })).toBeVisible();
  expect(await slip()).toBe(0);
  await line.getByRole('button', { name: 'Redo' }).click();
  await expect(line.getByRole('button', { name: 'Undo', exact: true })).toBeVisible();
  expect(await slip()).toBe(3);
});

test('decisions go back to a point, are saved as a file, and are taken in again', async ({ request }) => {
  const log = async () =>
    (await (await request.get(`/api/jobs/${job}/activity`)).json()).decisions as { withdrawn: boolean; text: string }[];
  const standing = async () => (await log()).filter((d) => !d.withdrawn).length;
  const before = await standing();
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Export decisions' }).click()]);
  expect(file.suggestedFilename()).toMatch(/_decisions\.json$/);
  const where = await file.path();
  const { events, decisions } = JSON.parse(readFileSync(where, 'utf8'));
  expect(events).toHaveLength(32);
  expect(decisions.map((d: { decision: { kind: string } }) => d.decision.kind)).toEqual(
    expect.arrayContaining(['pair', 'slip', 'placement']),
  );

  const lines = page.getByTestId('decisions').getByRole('listitem');
  const accepted = lines.filter({ hasText: '24 events: paired' });
  await accepted.getByRole('button', { name: 'Add reason' }).click();
  await accepted.getByLabel('Why this was decided').fill('checked against the camera sheets');
  await accepted.getByRole('button', { name: 'Save reason' }).click();
  await expect(accepted).toContainText('checked against the camera sheets');
  await accepted.getByRole('button', { name: 'Undo all after this' }).click();
  await expect.poll(standing).toBe(1);
  // The page shows it, too.
  await expect(lines.first().getByRole('button', { name: 'Redo' })).toBeVisible();
  await page.getByLabel('File of decisions').setInputFiles(where);
  await toast(`${decisions.length} decisions imported`);
  expect(await standing()).toBe(2);
  const { rows } = await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json();
  expect(rows.find((r: { number: string }) => r.number === '019').slip).toBe(3);
  await expect(lines.first().getByRole('button', { name: 'Undo', exact: true })).toBeVisible();
  // As it was before: what was taken in is undone, and each that was undone is done again.
  await lines.first().getByRole('button', { name: 'Undo', exact: true }).click();
  await expect.poll(standing).toBe(1);
  for (const batch of [...(await log())].reverse().slice(1, before)) {
    const line = lines.filter({ hasText: batch.text }).filter({ has: page.getByRole('button', { name: 'Redo' }) });
    await line.last().getByRole('button', { name: 'Redo' }).click();
    await page.waitForTimeout(150);
  }
  await expect.poll(standing).toBe(before);
});

test('what is seen is kept as a still, and runs as a person says where rates differ', async ({ request }) => {
  await stage('Proof').click();
  const [still] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save still' }).click()]);
  expect(still.suggestedFilename()).toMatch(/^01-0\d-\d\d-\d\d\.png$/);
  expect(
    readFileSync(await still.path())
      .subarray(1, 4)
      .toString(),
  ).toBe('PNG');

  await stage('Pairing').click();
  await ledgerRow('015').click();
  const bench = page.getByTestId('bench');
  await expect(bench).toContainText('25 in a cut of 23.976, runs in real time');
  await bench.getByRole('button', { name: 'Run frame for frame' }).click();
  await expect(bench).toContainText('runs frame for frame, as was decided');
  const row = async () =>
    (await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json()).rows.find((r: { number: string }) => r.number === '015');
  // Its proof was made of other pictures and holds no longer.
  expect((await row()).proof.stale).toBe(true);
  await page.keyboard.press('z');
  await expect(bench).toContainText('runs in real time');
  await expect.poll(async () => (await row()).proof.stale).toBe(false);
  await bench.getByLabel('Note about this event').fill('ask for the 24 frame transfer');
  await bench.getByRole('button', { name: 'Save note' }).click();
  await expect(bench.getByText('ask for the 24 frame transfer')).toBeVisible();
});

test('a grade is typed or drawn, tried in the viewer, and kept', async () => {
  await stage('Grade').click();
  const shot = (number: string) => page.locator(`[aria-label="Contact sheet"] [data-number="${number}"]`);
  await shot('006').click();
  await page.getByLabel('Saturation', { exact: true }).fill('0.25');
  await expect(page.getByText('Tried, not applied yet')).toBeVisible();
  await expect(page.getByLabel(/and Conform, as tried/)).toBeVisible();
  await expect(shot('006')).toContainText('tried');
  // By keys: the foot goes up by its number, and white stays.
  await page.getByRole('slider', { name: 'Foot (offset), all channels' }).focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowUp');
  await expect(page.getByLabel('Red offset')).toHaveValue('0.02');
  await expect(page.getByLabel('Green slope')).toHaveValue('0.98');
  // By pointer, one channel alone: the bend is drawn up, which is a power below one.
  await page.getByRole('tab', { name: 'Blue' }).click();
  const bend = await page.getByRole('slider', { name: 'Bend (power), blue' }).boundingBox();
  const [x, y] = [(bend?.x ?? 0) + (bend?.width ?? 0) / 2, (bend?.y ?? 0) + (bend?.height ?? 0) / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y - 20, { steps: 4 });
  await page.mouse.up();
  expect(Number(await page.getByLabel('Blue power').inputValue())).toBeLessThan(0.9);
  await expect(page.getByLabel('Red power')).toHaveValue('1');
  await page.getByRole('button', { name: 'Reset bend' }).click();
  await expect(page.getByLabel('Blue power')).toHaveValue('1');
  await page.getByRole('button', { name: 'Apply', exact: true }).click();
  await toast('Event 006 graded');
  await expect(page.getByText('grade made here')).toBeVisible();
});

test('a title is seen over what is tried, drawn by the server, which keeps nothing of it', async ({ request }) => {
  await page.locator('[aria-label="Contact sheet"] [data-number="001"]').click();
  const drawn = page.waitForResponse((r) => r.url().endsWith('/picture') && r.request().method() === 'POST');
  await page.getByLabel('Saturation', { exact: true }).fill('0.4');
  expect((await drawn).status()).toBe(200);
  await page.getByRole('button', { name: 'Drop what is tried' }).click();
  const asked = { frame: 86_400 + 48, width: 320 };
  const otherwise = async (more: object) =>
    (
      await request.post(`/api/jobs/${job}/picture`, { data: { ...asked, ...more }, headers: { origin: new URL(page.url()).origin } })
    ).body();
  const stands = await (await request.get(`/api/jobs/${job}/picture?side=conform&frame=${asked.frame}&width=${asked.width}`)).body();
  expect(await otherwise({})).toEqual(stands);
  expect(await otherwise({ without: ['V2'] })).not.toEqual(stands);
});

test('shots are brought close to one that is the measure: proposals with how far they were and are, applied as one', async ({
  request,
}) => {
  const shot = (number: string) => page.locator(`[aria-label="Contact sheet"] [data-number="${number}"]`);
  await shot('004').click();
  await page.getByRole('button', { name: 'Take 004 for the measure' }).click();
  await shot('003').click();
  await shot('005').click({ modifiers: ['Control'] });
  await page.getByRole('button', { name: 'Bring 2 selected shots close to 004' }).click();
  await toast('2 shots brought close to 004, to be tried; nothing is applied yet');
  const said = await page.getByTestId('brought').textContent();
  const [, before, after] = /Was ([\d.]+) from 004, is ([\d.]+) with/.exec(said ?? '') ?? [];
  expect(Number(after)).toBeLessThan(Number(before));
  const cdls = async () => {
    const { rows } = await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json();
    return ['003', '005'].map((n) => rows.find((r: { number: string }) => r.number === n).cdl);
  };
  expect(await cdls()).toEqual([null, null]);
  await page.getByRole('button', { name: 'Apply all 2 that are tried' }).click();
  await toast('2 events graded');
  await expect.poll(async () => (await cdls()).every((cdl) => cdl !== null)).toBe(true);
  await page.keyboard.press('z');
  await expect.poll(cdls).toEqual([null, null]);
});

test('an earlier version of a grade is tried again, shots are graded as a group, and a LUT comes after', async ({ request }) => {
  const shot = (number: string) => page.locator(`[aria-label="Contact sheet"] [data-number="${number}"]`);
  const rows = async () =>
    (await (await request.get(`/api/jobs/${job}/ledger?as=rows`)).json()).rows as {
      number: string;
      cdl: { saturation: number } | null;
      lut: { file: string } | null;
    }[];
  const saturations = async (...numbers: string[]) =>
    (await rows()).filter((r) => numbers.includes(r.number)).map((r) => r.cdl?.saturation ?? null);
  await shot('006').click();
  await page.getByLabel('Saturation', { exact: true }).fill('0.6');
  await page.getByRole('button', { name: 'Apply', exact: true }).click();
  await toast('Event 006 graded');
  const versions = page.getByTestId('versions').getByRole('listitem');
  await expect(versions).toHaveCount(2);
  await versions.last().getByRole('button', { name: 'Try 1' }).click();
  await expect(page.getByLabel('Saturation', { exact: true })).toHaveValue('0.25');
  await expect(page.getByText('Tried, not applied yet')).toBeVisible();
  // A group of two: put in, and given the grade that is seen, as one.
  await shot('008').click({ modifiers: ['Control'] });
  await page.getByLabel('Name of a group').fill('dusk');
  await page.getByRole('button', { name: 'Put 2 selected shots in it' }).click();
  await expect(page.getByTestId('group')).toHaveText('dusk');
  await expect(shot('008')).toContainText('dusk:');
  await page.getByRole('button', { name: 'Give to its 2' }).click();
  await toast('2 events of dusk have the grade of 006');
  await expect.poll(() => saturations('006', '008')).toEqual([0.25, 0.25]);
  await page.keyboard.press('z');
  await expect.poll(() => saturations('006', '008')).toEqual([0.6, null]);
  // A LUT that is not there is refused by name; one that is there is seen, and taken away again.
  await shot('012').click();
  await page.getByLabel('Path of a LUT').fill('/none/look.cube');
  await page.getByRole('button', { name: 'Apply LUT' }).click();
  await toast(/There is no file \/none\/look\.cube/);
  const cube = path.join(mkdtempSync(path.join(tmpdir(), 'gemello-lut-')), 'warm.cube');
  writeFileSync(cube, 'LUT_1D_SIZE 2\n0 0 0\n1 0.9 0.8\n');
  await page.getByLabel('Path of a LUT').fill(cube);
  await page.getByRole('button', { name: 'Apply LUT' }).click();
  await expect(page.getByTestId('lut')).toHaveText('warm.cube');
  await expect(shot('012')).toContainText('LUT');
  await page.getByRole('button', { name: 'Remove LUT' }).click();
  await expect(page.getByTestId('lut')).toHaveText('none');
  rmSync(path.dirname(cube), { recursive: true });
});

let returned = '';
test('clips and list are written', async () => {
  await stage('Return').click();
  await expect(page.getByText('1 of 32 events has no accepted original')).toBeVisible();
  // What the proof left open is said before anything is written.
  await expect(page.getByRole('button', { name: /events? ha(s|ve) findings of the proof that are still open/ })).toBeVisible();
  await page.getByLabel('Handles, frames').fill('10');
  await page.getByRole('button', { name: 'Write 29 clips and list' }).click();
  await expect(page.getByTestId('written')).toContainText('29 clips');
  await expect(page.getByTestId('written')).toContainText('as planned');
  returned = ((await page.getByTestId('written').getByTestId('path').textContent()) ?? '').trim();
});

/** A label of the scenario moved by frames, by the npm package. */
function moved(label: string, by: number, rate: number): string {
  const whole = SmpteTimecode(label, rate, false).frameCount + by;
  return SmpteTimecode(whole, rate, false).toString();
}

/** What the written list must say of an event, reckoned from the scenario alone. */
function expected(event: CutEvent): { reel: string; sourceIn: string; sourceOut: string } | null {
  if (!event.clip || event.clip === 'A014C001_260415') return null;
  const take = takeOf(event.clip);
  const rate = take.rate.den === 1 ? take.rate.num : 24;
  const speed = event.speed ?? 1;
  // What runs at another rate runs in real time: 75 frames of 23.976 last as long as 78.2 of 25.
  const pace = rate === 24 ? 1 : (rate * 1001) / 24_000;
  const used = speed === 0 ? event.length : Math.ceil(event.length * Math.abs(speed) * pace);
  const first = speed < 0 ? event.at - used + 1 : event.at;
  if (take.writer === 'png') return { reel: 'AX', sourceIn: '00:00:00:10', sourceOut: moved('00:00:00:10', event.length, 24) };
  return { reel: take.reel, sourceIn: moved(take.start, first, rate), sourceOut: moved(take.start, first + used, rate) };
}

const EVENT = /^(\d+) +(\S+) +(V2?) +(C|D|W001) +(?:(\d+) )? *(\S+) (\S+) (\S+) (\S+)$/;
const linesOf = (file: string) =>
  readFileSync(file, 'utf8')
    .split('\n')
    .flatMap((line) => {
      const found = EVENT.exec(line);
      return found ? [found.slice(1).map((s) => s ?? '')] : [];
    })
    .filter(([, , , , , , , recordIn, recordOut]) => recordIn !== recordOut);

test('the written list says line by line what the scenario says', () => {
  const written = linesOf(path.join(returned, 'SALT_YEAR_V04_RETURN.edl'));
  const delivered = linesOf(DEMO.list);
  expect(written).toHaveLength(32);
  for (const event of CUT) {
    const line = written.find(([number]) => number === event.number) ?? [];
    const before = delivered.find(([number]) => number === event.number) ?? [];
    const [, reel, track, code, length, sourceIn, sourceOut, recordIn, recordOut] = line;
    expect([event.number, track, code, length, recordIn, recordOut]).toEqual([
      event.number,
      before[2],
      before[3],
      before[4],
      before[7],
      before[8],
    ]);
    const truth = expected(event) ?? { reel: before[1], sourceIn: before[5], sourceOut: before[6] };
    expect({ number: event.number, reel, sourceIn, sourceOut }).toEqual({ number: event.number, ...truth });
  }
});

test('speeds and clip names stand below their events', () => {
  const text = readFileSync(path.join(returned, 'SALT_YEAR_V04_RETURN.edl'), 'utf8');
  expect(text.match(/^M2 .*$/gm)?.map((l) => l.split(/ +/)[2])).toEqual(['048.0', '-024.0', '012.0', '000.0']);
  expect(text).toContain('* SOURCE FILE: A011C003_260412_004.mov');
  expect(text).toContain('* SOURCE FILE: A011C003_260412_010.mov');
});

test('every written clip has the timecode and length the list needs, by ffprobe', () => {
  const clips = readdirSync(returned).filter((f) => f.endsWith('.mov'));
  expect(clips).toHaveLength(29);
  for (const [file, start, frames, reel] of [
    // Reckoned by hand. 001: source in 05:41:13:19 less 10; 96 frames and 10 at each end.
    ['A011C001_260412.mov', '05:41:13:09', '116', 'A011'],
    // 004: 84 frames, 12 of dissolve tail, 20 of handles.
    ['A011C003_260412_004.mov', '07:15:05:10', '116', 'A011'],
    // 011: at double speed 66 frames and 18 of wipe tail run over 167 of source; the clip ends at its frame 190.
    ['D002C001_260413.mov', '13:20:44:18', '176', 'D002'],
    // 017: at half speed 80 frames take 40 of source.
    ['D002C002_260413.mov', '13:42:19:21', '60', 'D002'],
    // 019: slipped by 3, so that it begins at take frame 38.
    ['B005C002_260413.mov', '11:40:06:17', '92', 'B005'],
    // 015: 25 fps from 10:00:01:09 in real time: 75 frames of the cut show 78 of it.
    ['H1931_harbour.mov', '10:00:00:24', '98', 'H193'],
    // 020: the list counted from zero; the clip has its own timecode again.
    ['A013C001_260414.mov', '22:23:11:02', '84', 'A013'],
  ] as const) {
    const shown = execFileSync('ffprobe', [
      '-v',
      'error',
      '-count_packets',
      '-show_entries',
      'stream=nb_read_packets:stream_tags=timecode,reel_name',
      '-of',
      'json',
      path.join(returned, file),
    ]);
    const [video, data] = JSON.parse(shown.toString()).streams;
    expect({ file, start: video.tags.timecode, frames: video.nb_read_packets, reel: data.tags.reel_name }).toEqual({
      file,
      start,
      frames,
      reel,
    });
  }
});
