import { fork, spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/**
 * How a drive is: as it should be; it answers nothing; everything late; it was pulled out; every file ends in its middle; there is no room
 * on it; nothing may be changed on it.
 */
export type Mode = 'well' | 'hung' | 'slow' | 'gone' | 'short' | 'full' | 'read-only';

export interface Drive {
  /** From now on it is so. What a drive that hung was asked is answered then. */
  be(mode: Mode): void;
  close(): void;
}

/**
 * A drive of our own at a folder, with what lies in another one: a file system that is a program (FUSE). Throws where this process
 * may not mount: it must be root, or have mounts of its own (scripts/soak.mjs).
 */
export function openDrive(behind: string, at: string): Promise<Drive> {
  mkdirSync(behind, { recursive: true });
  mkdirSync(at, { recursive: true });
  const program = fork(fileURLToPath(new URL('./serve.ts', import.meta.url)), [behind, at], { execArgv: ['--import', 'tsx'] });
  return new Promise((resolve, reject) => {
    program.once('exit', (code) => reject(new Error(`The drive ended with ${code}.`)));
    program.once('message', (said) => {
      if (said !== 'mounted') return reject(new Error(String(said)));
      resolve({
        be: (mode) => void program.send(mode),
        close() {
          program.send('well');
          spawnSync('umount', ['-l', at], { stdio: 'ignore' });
          program.kill();
        },
      });
    });
  });
}
