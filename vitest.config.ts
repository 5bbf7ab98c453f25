import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,media,cli,demo,app,faults}/**/*.test.ts'],
    exclude: ['**/node_modules/**', '**/dist/**'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    // The media engine is native code; a process of its own for each file keeps them apart.
    pool: 'forks',
    maxWorkers: 2,
  },
});
