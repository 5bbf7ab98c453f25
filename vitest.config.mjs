import { defineConfig } from 'vitest/config';
import { isBuilt, THREADS } from './scripts/build.mjs';

export default defineConfig({
  test: {
    // Long enough for a machine that does other work beside.
    testTimeout: 300_000,
    hookTimeout: 300_000,
    pool: 'forks',
    maxWorkers: 2,
    // As the server starts them, where `npm run build` made them of the sources as they are.
    env: { GEMELLO_THREADS: isBuilt() ? THREADS : '' },
    setupFiles: ['./scripts/same-cases.ts'],
    projects: [
      // What these keep in their modules is kept by place or content, so that files may follow each other in one process.
      { extends: true, test: { name: 'core', include: ['core/**/*.test.ts'], exclude: ['**/node_modules/**'], isolate: false } },
      {
        extends: true,
        test: { name: 'media', include: ['media/**/*.test.ts', 'faults/**/*.test.ts'], exclude: ['**/node_modules/**'], isolate: false },
      },
      // The server keeps one desk in its modules: a process of its own for each file.
      {
        extends: true,
        test: { name: 'work', include: ['{cli,demo,app}/**/*.test.ts'], exclude: ['**/node_modules/**', '**/dist/**'] },
      },
    ],
  },
});
