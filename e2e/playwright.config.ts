import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './chromium';
import { PORT } from './ports';

// The configuration is loaded again in each worker; all of them must see one folder.
process.env.GEMELLO_TEST_DATA ??= mkdtempSync(path.join(tmpdir(), 'gemello-desk-'));

const WALK = /walk\.spec/;
const IN_TIME = /viewer\.spec/;

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results/browser',
  workers: 2,
  // Long enough for a machine that does other work beside: what waits for nothing is not held up by it.
  timeout: 1_200_000,
  expect: { timeout: 600_000 },
  reporter: [['list'], ['json', { outputFile: '../test-results/e2e.json' }]],
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    actionTimeout: 300_000,
    launchOptions: CHROMIUM,
    screenshot: 'only-on-failure',
  },
  // The longest begins first; what is held against the clock has the machine to itself, after all else.
  projects: [
    { name: 'walk', testMatch: WALK },
    { name: 'work', testIgnore: [WALK, IN_TIME] },
    { name: 'in time', testMatch: IN_TIME, workers: 1, dependencies: ['walk', 'work'] },
  ],
  webServer: {
    command: `node ../scripts/serve.mjs --port ${PORT} --data ${process.env.GEMELLO_TEST_DATA}`,
    url: `http://127.0.0.1:${PORT}/api/up`,
    reuseExistingServer: false,
    timeout: 120_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 5_000 },
  },
});
