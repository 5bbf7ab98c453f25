import { existsSync, mkdirSync, realpathSync } from 'node:fs';
import path from 'node:path';

/** Folder for the database and everything Gemello makes; set by the start script. */
export const DATA = path.resolve(process.env.GEMELLO_DATA ?? '.data');
const ROOT = path.resolve(process.env.GEMELLO_ROOT ?? '.');

/**
 * Folders that may be browsed and added as volumes, each as it was named and as it lies, links resolved; none given: any may be added by path,
 * and the home folder is browsed. One that is not there yet still keeps everything else out.
 */
export const ROOTS: readonly { readonly named: string; readonly real: string }[] = (process.env.GEMELLO_ROOTS ?? '')
  .split(path.delimiter)
  .filter((r) => r !== '')
  .map((r) => ({ named: path.resolve(r), real: existsSync(r) ? realpathSync(r) : path.resolve(r) }));

export const MIGRATIONS = path.join(ROOT, 'app', 'migrations');

/** A folder of the job's own, made when it is not there. */
export function jobFolder(jobId: string, ...parts: string[]): string {
  const folder = path.join(DATA, 'jobs', jobId, ...parts);
  mkdirSync(folder, { recursive: true });
  return folder;
}
