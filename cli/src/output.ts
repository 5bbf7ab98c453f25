import { existsSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { formatOfName, LIST_FORMATS, type ListFormat, type Written } from '@gemello/core';
import { whole } from '@gemello/media/plain';
import { UsageError } from './exit';

/** Writes by way of a temporary name, so that nothing is ever half there. */
export function put(file: string, bytes: Uint8Array | string): void {
  try {
    whole(file, (half) => writeFileSync(half, bytes));
  } catch (error) {
    throw new UsageError(`Cannot write ${file}: ${(error as Error).message}`);
  }
}

/** Reads an option that names a file to be written: its folder must be there before long work begins. */
export function outputOption(file: string): string {
  const folder = path.dirname(path.resolve(file));
  if (!existsSync(folder) || !statSync(folder).isDirectory())
    throw new UsageError(`There is no folder ${folder} to write ${path.basename(file)} to.`);
  return path.resolve(file);
}

/** The format that the extension of a list to be written names. Throws UsageError with those that are known. */
export function formatOfOutput(file: string): ListFormat {
  const format = formatOfName(file);
  if (format) return format;
  const known = LIST_FORMATS.flatMap((f) => f.extensions).join(', ');
  throw new UsageError(`${path.basename(file)}: the extension names no format; known are ${known}.`);
}

/** Writes a list, in as many files as its format takes, and gives their paths. */
export function putList(file: string, { files }: Pick<Written, 'files'>): string[] {
  return files.map(({ fileName, bytes }) => {
    const written = path.join(path.dirname(path.resolve(file)), fileName);
    put(written, bytes);
    return written;
  });
}
