import { existsSync, renameSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { UsageError } from './exit';

/** Writes by way of a temporary name, so that nothing is ever half there. */
export function put(file: string, bytes: Uint8Array | string): void {
  const partial = `${file}.part`;
  try {
    writeFileSync(partial, bytes);
    renameSync(partial, file);
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
