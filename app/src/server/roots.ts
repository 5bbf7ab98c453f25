import { readdirSync, realpathSync } from 'node:fs';
import { homedir } from 'node:os';
import path from 'node:path';
import { ROOTS } from './config';
import { RequestError } from './http';

/** The folders in a folder of this machine, below the roots given at start. Links are resolved, and must stay below them. */
export function browse(folder: string | null): { path: string; parent: string | null; folders: string[] } {
  const roots = ROOTS.length > 0 ? ROOTS : [homedir()];
  if (!folder && roots.length > 1) return { path: '', parent: null, folders: [...roots] };
  let real: string;
  try {
    real = realpathSync(path.resolve(folder ?? (roots[0] as string)));
  } catch {
    throw new RequestError(404, `There is no folder ${folder} on this machine. Is its drive mounted?`);
  }
  if (!isAllowed(real, roots)) throw new RequestError(403, `${real} lies outside the folders this server may look into.`);
  const entries = readdirSync(real, { withFileTypes: true });
  const folders = entries.filter((e) => e.isDirectory() && !e.name.startsWith('.')).map((e) => path.join(real, e.name));
  const parent = path.dirname(real);
  return { path: real, parent: isAllowed(parent, roots) ? parent : roots.length > 1 ? '' : null, folders: folders.sort() };
}

const isAllowed = (real: string, roots: readonly string[]): boolean =>
  roots.some((r) => real === r || real.startsWith(r === '/' ? r : r + path.sep));

/** Throws when roots were given at start and a folder lies outside them. */
export function mustBeAllowed(real: string): void {
  if (ROOTS.length > 0 && !isAllowed(real, ROOTS))
    throw new RequestError(403, `${real} lies outside the folders this server may look into.`);
}
