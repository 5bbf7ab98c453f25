import { homedir } from 'node:os';
import path from 'node:path';
import { ROOTS } from './config';
import { answered, drives, placeAt } from './drives';
import { RequestError } from './http';

/** What may be looked into: the folders given at start, or everything. */
const roots: readonly string[] = ROOTS.length > 0 ? ROOTS : ['/'];

/** The folders in a folder of this machine, below the roots. Links are resolved, and must stay below them. Begins at the roots, or at home where there are none. */
export async function browse(folder: string | null): Promise<{ path: string; parent: string | null; folders: string[] }> {
  if (!folder && roots.length > 1) return { path: '', parent: null, folders: [...roots] };
  const { real, kind } = await placeAt(folder ?? ROOTS[0] ?? homedir(), noFolder(folder));
  if (kind !== 'folder') throw new RequestError(404, noFolder(folder));
  mustBeAllowed(real);
  const folders = await answered(drives().foldersIn(real));
  if (!folders) throw new RequestError(403, `${real} may not be opened by the account that Gemello runs under.`);
  return { path: real, parent: parentOf(real), folders };
}

/** The folder above, `` for the list of roots; null at the top. */
function parentOf(real: string): string | null {
  const parent = path.dirname(real);
  if (parent !== real && isAllowed(parent)) return parent;
  return roots.length > 1 ? '' : null;
}

export const noFolder = (folder: string | null): string => `There is no folder ${folder ?? ''} on this machine. Is its drive mounted?`;

const isAllowed = (real: string): boolean => roots.some((r) => real === r || real.startsWith(r === '/' ? r : r + path.sep));

/** Throws when roots were given at start and a folder lies outside them. */
export function mustBeAllowed(real: string): void {
  if (!isAllowed(real)) throw new RequestError(403, `${real} lies outside the folders this server may look into.`);
}
