import { createHash } from 'node:crypto';
import { readdirSync, statSync } from 'node:fs';
import path from 'node:path';

/** A short text that changes when one of the files at or below the paths does: names, sizes and times; tests left out. */
export function stampOf(root, paths) {
  const hash = createHash('sha1');
  const take = (file) => {
    const { size, mtimeMs } = statSync(file);
    hash.update(`${file}\n${size}\n${mtimeMs}\n`);
  };
  for (const source of paths) {
    const at = path.join(root, source);
    if (statSync(at).isFile()) take(at);
    else
      for (const entry of readdirSync(at, { withFileTypes: true, recursive: true }))
        if (entry.isFile() && !entry.name.endsWith('.test.ts')) take(path.join(entry.parentPath ?? entry.path, entry.name));
  }
  return hash.digest('hex').slice(0, 16);
}
