import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './chromium';

const PORT = Number(process.env.GEMELLO_TEST_PORT ?? 4398);
// The configuration is loaded again in each worker; all of them must see one folder.
process.env.GEMELLO_TEST_DATA ??= mkdtempSync(path.join(tmpdir(), 'gemello-desk-'));

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results/browser',
  workers: 1,
  timeout: 240_000,
  expect: { timeout: 20_000 },
  reporter: [['list'], ['json', { outputFile: '../test-results/e2e.json' }]],
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    actionTimeout: 30_000,
    launchOptions: CHROMIUM,
    screenshot: 'only-on-failure',
  },
  webServer: {
    command: `node ../scripts/serve.mjs --port ${PORT} --data ${process.env.GEMELLO_TEST_DATA}`,
    url: `http://127.0.0.1:${PORT}/api/up`,
    reuseExistingServer: false,
    timeout: 60_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 5_000 },
  },
});
