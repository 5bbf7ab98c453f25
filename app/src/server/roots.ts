import { homedir } from 'node:os';
import path from 'node:path';
import type { Place } from '@gemello/media';
import { ROOTS } from './config';
import { answered, drives, placeAt } from './drives';
import { RequestError } from './http';

/** What may be looked into: the folders given at start, or everything. */
const roots: readonly string[] = ROOTS.length > 0 ? ROOTS.map((r) => r.real) : ['/'];

/** The folders in a folder of this machine, below the roots. Links are resolved, and must stay below them. Begins at the roots, or at home where there are none. */
export async function browse(folder: string | null): Promise<{ path: string; parent: string | null; folders: string[] }> {
  if (!folder && roots.length > 1) return { path: '', parent: null, folders: [...roots] };
  const { real, kind } = await allowedAt(folder ?? ROOTS[0]?.real ?? homedir(), noFolder(folder));
  if (kind !== 'folder') throw new RequestError(404, noFolder(folder));
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

const isBelow = (file: string, among: readonly string[]): boolean =>
  among.some((r) => file === r || file.startsWith(r.endsWith(path.sep) ? r : r + path.sep));
const isAllowed = (real: string): boolean => isBelow(real, roots);

/**
 * What stands at a path that a person named, below the folders that may be looked into, or below one `also`. All else is refused alike (403),
 * so that nobody learns what there is: before it is looked at, or, where a link leads there, whether anything is at its end or not. Else throws
 * as `placeAt` does.
 */
export async function allowedAt(file: string, missing: string, also: readonly string[] = []): Promise<Place> {
  if (ROOTS.length === 0 || !path.isAbsolute(file)) return placeAt(file, missing);
  const all = [...roots, ...also];
  const outside = new RequestError(403, `${file} lies outside the folders this server may look into.`);
  const named = path.resolve(file);
  const asNamed = [...all, ...ROOTS.map((r) => r.named)];
  if (!isBelow(named, asNamed)) throw outside;
  for (let at = named; isBelow(at, asNamed); at = path.dirname(at)) {
    const place = await answered(drives().at(at));
    if (place && !isBelow(place.real, all)) throw outside;
    if (place && at === named) return place;
    if (place) break;
  }
  throw new RequestError(404, missing);
}
