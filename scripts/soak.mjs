// npm run soak -- --minutes 10 --seed 1: faults one after the other, then what a program of PyPI makes up from the table of endpoints.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { buildApp } from './build.mjs';
import { install, root } from './install.mjs';
import { installAsker } from './needs.mjs';

install();
await buildApp();
const asker = installAsker();
const run = (file, ...args) =>
  spawnSync(process.execPath, ['--import', 'tsx', path.join(root, 'soak', file), ...args], { cwd: root, stdio: 'inherit' }).status ?? 1;
const faults = run('run.ts', ...process.argv.slice(2));
const asked = run('asked.ts', asker);
process.exit(faults || asked);
