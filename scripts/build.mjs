// Builds the web application, unless what it is made of is as it was when it was built last.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { root, run } from './install.mjs';
import { stampOf } from './stamp.mjs';

const SOURCES = ['core/src', 'media/src', 'app/src', 'app/astro.config.mjs', 'app/package.json', 'package-lock.json', 'tsconfig.json'];

export function buildApp() {
  const kept = path.join(root, 'app', 'dist', 'made-from.txt');
  const entry = path.join(root, 'app', 'dist', 'server', 'entry.mjs');
  const stamp = stampOf(root, SOURCES);
  if (existsSync(entry) && existsSync(kept) && readFileSync(kept, 'utf8') === stamp) return;
  run('npm', ['run', 'build', '--silent'], { stdio: ['ignore', 'ignore', 'inherit'] });
  writeFileSync(kept, stamp);
}
