import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** What the finished files below a folder were made from, so that none is made a second time from the same. */
export interface WorkRecord {
  /** True when the file is there and was made from what `mark` stands for. */
  holds(file: string, mark: string): boolean;
  keep(file: string, mark: string): void;
}

/** Opens the record in a file, which holds marks by the paths of the finished files from its own folder on. A damaged one counts as empty. */
export function openRecord(recordFile: string): WorkRecord {
  const folder = path.dirname(recordFile);
  const marks = read(recordFile);
  return {
    holds: (file, mark) => marks[path.relative(folder, file)] === mark && existsSync(file),
    keep(file, mark) {
      marks[path.relative(folder, file)] = mark;
      writeWhole(recordFile, JSON.stringify(marks, null, 1));
    },
  };
}

function read(file: string): Record<string, string> {
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as Record<string, string>;
  } catch {
    return {};
  }
}

/** Writes a file that appears under its name only when it is whole. */
export function writeWhole(file: string, content: string | Uint8Array): void {
  writeFileSync(`${file}.part`, content);
  renameSync(`${file}.part`, file);
}
