import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { seedDemo } from '@gemello/demo';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM } from './chromium';
import { DEMO } from './demo';

/** Makes docs/screenshots from the demo: `npm run screenshots`, after `npm run build` and with the demo's footage drawn. */
const PORT = 4397;
const BASE = `http://127.0.0.1:${PORT}`;
const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const out = path.join(root, 'docs', 'screenshots');
const data = mkdtempSync(path.join(tmpdir(), 'gemello-shots-'));
mkdirSync(out, { recursive: true });

const server = spawn(process.execPath, [path.join(root, 'scripts', 'serve.mjs'), '--port', String(PORT), '--data', data], {
  stdio: 'inherit',
});
try {
  for (
    let tries = 0;
    tries < 100 &&
    !(await fetch(`${BASE}/api/jobs`).then(
      (r) => r.ok,
      () => false,
    ));
    tries++
  )
    await new Promise((r) => setTimeout(r, 200));
  const job = await seedDemo(BASE, DEMO);
  const browser = await chromium.launch(CHROMIUM);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await walk(page, job);
  await browser.close();
} finally {
  server.kill('SIGTERM');
  await new Promise((resolve) => server.once('exit', resolve));
  rmSync(data, { recursive: true });
}

async function walk(page: Page, job: string): Promise<void> {
  /** Opens a stage, at an event by its number and a record frame where they are given. */
  const open = async (stage: string, number = '', frame = 0) => {
    const { rows } = (await (await fetch(`${BASE}/api/jobs/${job}/ledger?as=rows`)).json()) as { rows: { id: string; number: string }[] };
    const event = rows.find((r) => r.number === number)?.id;
    await page.goto(`${BASE}/job/${job}/${stage}${event ? `?event=${encodeURIComponent(event)}&frame=${frame}` : ''}`);
    await page.waitForTimeout(2500);
  };
  const shot = async (name: string) => {
    await page
      .locator('[data-sonner-toast]')
      .first()
      .waitFor({ state: 'detached', timeout: 20_000 })
      .catch(() => {});
    await page.waitForTimeout(1200);
    await page.screenshot({ path: path.join(out, `${name}.png`) });
  };
  await open('turnover', '005', 86_720);
  await shot('turnover');
  await page.getByRole('button', { name: 'Find its cuts' }).click();
  await page.getByRole('button', { name: 'Look for cuts' }).click();
  await page.getByTestId('marks').getByRole('button').nth(12).click({ timeout: 60_000 });
  await shot('cuts');
  await page.getByRole('region', { name: 'Cuts of the reference' }).getByRole('button', { name: 'Close' }).click();
  await page.getByLabel('Compare the cut with another list').selectOption({ index: 1 });
  await shot('beside');
  await page.getByLabel('Import another list').setInputFiles(DEMO.second);
  await page.getByText('A list has arrived').waitFor();
  await page.getByLabel('Frame rate').selectOption('25');
  await shot('arrival');
  await page.getByRole('button', { name: 'Discard' }).click();
  await open('originals');
  await page
    .getByTestId('originals')
    .getByRole('button', { name: /A013C004/ })
    .first()
    .click();
  await shot('originals');
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'reels', exact: true }).click();
  await shot('reels');
  await page.getByRole('button', { name: 'clips', exact: true }).click();
  await page.getByRole('button', { name: 'Clip logs' }).click();
  await page.getByRole('button', { name: /camera_sheets/ }).click();
  await page.getByLabel('What the column Shot holds').selectOption('clip');
  await page.getByLabel('What the column First frame at holds').selectOption('timecode');
  await page.getByLabel('What the column Remark holds').selectOption('notes');
  await shot('logs');
  await page.getByRole('region', { name: 'Clip logs' }).getByRole('button', { name: 'Close' }).click();
  await page.getByLabel('Filter originals').fill('A011');
  await page.getByLabel('Select all that are shown').check();
  await page.getByRole('button', { name: 'Proxies', exact: true }).click();
  await page.getByLabel('burn in name and timecode').check();
  await page.getByRole('button', { name: 'Make 4' }).click();
  await page
    .getByRole('button', { name: /proxy.*Proxies made here/ })
    .first()
    .waitFor({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Proxies', exact: true }).click();
  await page
    .getByTestId('originals')
    .getByRole('button', { name: /proxy.*A011C003/ })
    .click();
  await shot('light-copies');
  await open('pairing', '026', 88_093);
  await page.getByRole('button', { name: /Accept all proposed/ }).click();
  await page.getByText('24 pairs accepted').waitFor();
  await shot('pairing');
  await open('proof');
  await page.getByRole('button', { name: 'Prove everything' }).click();
  await page.getByText(/frames compared in/).waitFor({ timeout: 180_000 });
  await page.getByTestId('findings').locator('[data-number="019"]').click();
  await page.waitForTimeout(2500);
  await shot('proof');
  const lanes = page.getByRole('region', { name: 'Lanes' });
  await lanes.getByRole('button', { name: 'Fit event' }).click();
  await page.getByRole('tab', { name: 'Values' }).click();
  await lanes.getByLabel('Arrows move').selectOption('cut');
  await lanes.getByRole('img', { name: /^Lanes: / }).focus();
  await page.keyboard.press('Shift+ArrowLeft');
  await page.waitForTimeout(2000);
  await shot('lanes');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await page.getByRole('tab', { name: 'Findings' }).click();
  await page.getByRole('button', { name: 'Slip by +3' }).click();
  await page.getByTestId('findings').locator('[data-number="022"]').click();
  await page.getByRole('button', { name: 'Apply size and position' }).click();
  await page.waitForTimeout(4000);
  await open('grade', '002', 86_540);
  await page.getByLabel('Red slope').fill('1.15');
  await shot('grade');
  await open('return');
  await page.getByRole('button', { name: 'Write list only' }).click();
  await page.getByTestId('written').waitFor();
  await page.getByRole('button', { name: 'Write review movie' }).click();
  await page.getByText('Review movie written last').waitFor({ timeout: 240_000 });
  await shot('return');
  await open('activity');
  await shot('activity');
  await page.goto(BASE);
  await page.waitForTimeout(1500);
  await shot('jobs');
}
