// npm run lists:deep [CUTS] [SEED]: the laws of the lists over two thousand cuts a format, then the time and memory of every
// reader over files made to hold it up. Takes about half an hour; `npm test` runs the same over a hundred.
import { spawnSync } from 'node:child_process';
import { install, root } from './install.mjs';
import { installNeeds } from './needs.mjs';

install();
installNeeds();
const run = (command, args, env = {}) =>
  spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } }).status ?? 1;
const laws = ['core/test/aaf.test.ts', 'core/src/lists/roundtrip.test.ts', 'core/test/differential.test.ts', 'core/test/hostile.test.ts'];
const cuts = process.argv[2] ?? '2000';
const seed = process.argv[3] ?? String(Date.now() % 2 ** 31);
console.log(`cases of seed ${seed}`);
const failed =
  run('npx', ['vitest', 'run', '--testTimeout', '3600000', ...laws], { LISTS_CUTS: cuts, LAWS_SEED: seed }) +
  run('npx', ['tsx', 'bench/hostile.ts']);
process.exit(failed > 0 ? 1 : 0);
