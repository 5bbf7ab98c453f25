// Builds the web application and the threads it works with, unless what they are made of is as it was when they were built last.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { bundleMedia } from './bundle.mjs';
import { root, run } from './install.mjs';
import { stampOf } from './stamp.mjs';

const SOURCES = [
  ...['core/src', 'media/src', 'app/src', 'app/astro.config.mjs', 'app/package.json'],
  ...['scripts/bundle.mjs', 'package-lock.json', 'tsconfig.json'],
];

const built = path.join(root, 'app', 'dist');
const madeFrom = path.join(built, 'made-from.txt');

/** The threads, beside the server that was built with them. */
export const THREADS = path.join(built, 'threads');

/** True where the build is of the sources as they are. */
export const isBuilt = () => existsSync(madeFrom) && readFileSync(madeFrom, 'utf8') === stampOf(root, SOURCES);

export async function buildApp() {
  if (isBuilt()) return;
  const stamp = stampOf(root, SOURCES);
  run('npm', ['run', 'build', '-w', 'app', '--silent'], { stdio: ['ignore', 'ignore', 'inherit'] });
  await bundleMedia(THREADS, { thread: 'thread.ts', look: 'look.ts' });
  writeFileSync(madeFrom, stamp);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await buildApp();
