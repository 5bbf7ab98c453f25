// Starts the built web application on 127.0.0.1. Builds it first when it is not there.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { buildApp } from './build.mjs';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '4321' },
    data: { type: 'string', default: path.join(root, '.data') },
    // Folders that may be browsed and added as volumes; none: any, by path.
    root: { type: 'string', multiple: true, default: [] },
  },
});
const entry = path.join(root, 'app', 'dist', 'server', 'entry.mjs');
if (!existsSync(entry)) await buildApp();

const server = spawn(process.execPath, ['--max-http-header-size=65536', path.join(root, 'scripts', 'listen.mjs')], {
  // By the channel it knows when this script is gone, however that ended.
  stdio: ['inherit', 'inherit', 'inherit', 'ipc'],
  env: {
    // Pictures are given back to the system one by one: what comes and goes leaves holes in memory (docs/decisions/0037).
    MALLOC_MMAP_THRESHOLD_: '262144',
    ...process.env,
    HOST: '127.0.0.1',
    PORT: values.port,
    GEMELLO_DATA: path.resolve(values.data),
    GEMELLO_ROOT: root,
    GEMELLO_ROOTS: values.root.map((r) => path.resolve(r)).join(path.delimiter),
  },
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));

// The server loads its parts when it is first asked for something, and takes up the work that was begun with them.
for (let tries = 0; tries < 1200; tries++) {
  const up = await fetch(`http://127.0.0.1:${values.port}/api/up`).then(
    (r) => r.ok,
    () => false,
  );
  if (up) break;
  await new Promise((resolve) => setTimeout(resolve, 50));
}
