import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/** A folder of a test file's own, which `end` removes. */
export function scratch() {
  const folder = mkdtempSync(path.join(tmpdir(), 'gemello-'));
  return {
    folder,
    at: (name: string): string => path.join(folder, name),
    /** Writes a file, and the folders it needs. Returns its path. */
    put(name: string, bytes: Uint8Array | string): string {
      const file = path.join(folder, name);
      mkdirSync(path.dirname(file), { recursive: true });
      writeFileSync(file, bytes);
      return file;
    },
    end: () => rmSync(folder, { recursive: true, force: true }),
  };
}
