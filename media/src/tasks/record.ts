import { createHash } from 'node:crypto';
import { closeSync, existsSync, openSync, readdirSync, readFileSync, readSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { whole } from '../plain';

/** What the finished files below a folder were made from, so that none is made a second time from the same. */
export interface WorkRecord {
  /** True when the file was made from what `mark` stands for, and holds to the byte what was written then. */
  holds(file: string, mark: string): boolean;
  keep(file: string, mark: string): void;
}

interface Kept {
  readonly mark: string;
  /** MD5 of the file when it was finished. */
  readonly sum: string;
}

/**
 * Opens the record in a file, which holds marks by the paths of the finished files from its own folder on. A damaged one counts as empty.
 * `beside`: records of others in the same folder, which are believed too.
 */
export function openRecord(recordFile: string, beside: readonly string[] = []): WorkRecord {
  const folder = path.dirname(recordFile);
  const kept = read(recordFile);
  const all = [kept, ...beside.filter((other) => other !== recordFile && existsSync(other)).map(read)];
  return {
    holds(file, mark) {
      const known = all.map((one) => one[path.relative(folder, file)]).filter((one) => one?.mark === mark);
      if (known.length === 0) return false;
      const sum = sumOf(file);
      return known.some((one) => one?.sum === sum);
    },
    keep(file, mark) {
      kept[path.relative(folder, file)] = { mark, sum: sumOf(file) ?? '' };
      writeWhole(recordFile, JSON.stringify(kept, null, 1));
    },
  };
}

/** Read at once, in bytes. */
const PART = 4 * 1024 * 1024;

/** The MD5 of a file, or of all that stands in a folder, name by name; null where it is not there. */
function sumOf(file: string): string | null {
  if (statSync(file, { throwIfNoEntry: false })?.isDirectory()) {
    const hash = createHash('md5');
    for (const name of readdirSync(file).sort()) hash.update(`${name} ${sumOf(path.join(file, name))}\n`);
    return hash.digest('hex');
  }
  let open: number;
  try {
    open = openSync(file, 'r');
  } catch {
    return null;
  }
  try {
    const [hash, part] = [createHash('md5'), Buffer.alloc(PART)];
    for (let length = readSync(open, part); length > 0; length = readSync(open, part)) hash.update(part.subarray(0, length));
    return hash.digest('hex');
  } finally {
    closeSync(open);
  }
}

function read(file: string): Record<string, Kept | undefined> {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return {};
  }
}

/** Writes a file that appears under its name only when it is whole. */
export function writeWhole(file: string, content: string | Uint8Array): void {
  whole(file, (half) => writeFileSync(half, content));
}
