// npm run faults: the fault laboratory. Installs the pictures it is held against, where they are missing, and runs every state.
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { install, root } from './install.mjs';
import { installPictures } from './needs.mjs';

install();
const pictures = installPictures();
const { status } = spawnSync(process.execPath, ['--import', 'tsx', path.join('faults', 'run.ts'), ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
  env: { ...process.env, ...pictures },
});
process.exit(status ?? 1);
