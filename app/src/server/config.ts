import { existsSync, mkdirSync, realpathSync } from 'node:fs';
import path from 'node:path';

/** Folder for the database and everything Gemello makes; set by the start script. */
export const DATA = path.resolve(process.env.GEMELLO_DATA ?? '.data');
const ROOT = path.resolve(process.env.GEMELLO_ROOT ?? '.');

/** Folders that may be browsed and added as volumes, links resolved; none given: any may be added by path, and the home folder is browsed. */
export const ROOTS: readonly string[] = (process.env.GEMELLO_ROOTS ?? '')
  .split(path.delimiter)
  .filter((r) => r !== '' && existsSync(r))
  .map((r) => realpathSync(r));

export const MIGRATIONS = path.join(ROOT, 'app', 'migrations');

/** A folder of the job's own, made when it is not there. */
export function jobFolder(jobId: string, ...parts: string[]): string {
  const folder = path.join(DATA, 'jobs', jobId, ...parts);
  mkdirSync(folder, { recursive: true });
  return folder;
}
