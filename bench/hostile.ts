import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { LIST_FORMATS } from '@gemello/core';
import { hostileFiles } from '../core/test/hostile';
import { inFolder } from './measure';

/**
 * The time and memory each reader takes over files made to hold it up, of 2 MB each, every one in a process of its own. The
 * limits: 2 s per MB on this machine, and 20 times the file plus 64 MB, which is all the process gets beside what it takes to
 * start. Exits 1 when one is passed. Usage: hostile.ts [BYTES]
 */
const SIZE = Number(process.argv[2] ?? 2_000_000);
const SLOWEST = 2;
/** Small files may take this long, in seconds. */
const ALWAYS = 1;
const MEGABYTE = 1024 * 1024;
/** What the process holds before it reads, in MB; printed by `peak.ts`. */
const STARTED = 20;
const memoryOf = (bytes: number) => Math.ceil((20 * bytes) / MEGABYTE + 64);

export interface Held {
  readonly seconds: number;
  readonly started: number;
}

function held(script: string, format: string, file: string, bytes: number): Held | null {
  const limit = `--max-old-space-size=${memoryOf(bytes) + STARTED}`;
  try {
    return JSON.parse(
      execFileSync(process.execPath, [limit, '--import', 'tsx', script, format, file, '--held'], {
        encoding: 'utf8',
        stdio: ['ignore', 'pipe', 'ignore'],
      }),
    );
  } catch {
    return null;
  }
}

async function measured(): Promise<number> {
  let passed = 0;
  const script = fileURLToPath(new URL('./peak.ts', import.meta.url));
  await inFolder(async (folder) => {
    for (const { name, format, bytes } of hostileFiles(SIZE)) {
      const file = path.join(folder, 'list');
      writeFileSync(file, bytes);
      const found = held(script, format, file, bytes.byteLength);
      const megabytes = bytes.byteLength / MEGABYTE;
      const over = found === null || found.seconds > Math.max(ALWAYS, SLOWEST * megabytes);
      if (over) passed++;
      const time = found === null ? `more than ${memoryOf(bytes.byteLength)} MB of memory` : `${found.seconds.toFixed(2)} s`;
      console.log(`${over ? 'OVER' : 'ok  '} ${format.padEnd(6)} ${name.padEnd(40)} ${megabytes.toFixed(2)} MB  ${time}`);
    }
  });
  console.log(`${passed} of the readers' limits passed; ${LIST_FORMATS.length} readers, files of ${SIZE} bytes.`);
  return passed;
}

process.exit((await measured()) > 0 ? 1 : 0);
