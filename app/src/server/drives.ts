import { isAbsolute } from 'node:path';
import { type Drives, NotAnswering, openDrives, type Place } from '@gemello/media';
import { RequestError } from './http';

let opened: Drives | null = null;

/** The threads that look at drives, started on first use. */
export function drives(): Drives {
  opened ??= openDrives();
  return opened;
}

/** `silent`: its drive does not answer. Nothing is known of it then, and what was found on it stays as it is. */
export type VolumeWhereabouts = 'here' | 'away' | 'silent';

/** Where a volume is now. */
export async function whereaboutsOf(path: string): Promise<VolumeWhereabouts> {
  try {
    return (await drives().at(path)) === null ? 'away' : 'here';
  } catch (error) {
    if (error instanceof NotAnswering) return 'silent';
    throw error;
  }
}

/** The stamp of a file on a drive, which is another one once it was replaced under its name; null where it is not there or its drive does not answer. */
export async function stampAt(path: string): Promise<string | null> {
  try {
    return (await drives().at(path))?.stamp ?? null;
  } catch (error) {
    if (error instanceof NotAnswering) return null;
    throw error;
  }
}

/**
 * What stands at a path that a person named. Throws RequestError 400 where it is not a whole path, 404 with `missing` where nothing is there,
 * 504 where no answer comes.
 */
export async function placeAt(path: string, missing: string): Promise<Place> {
  if (!isAbsolute(path)) throw new RequestError(400, `${path} is not a full path. Give all of it, from the first / on.`);
  const place = await answered(drives().at(path));
  if (!place) throw new RequestError(404, missing);
  return place;
}

/** An answer of a drive, or RequestError 504 that says which one gives none. */
export async function answered<T>(asked: Promise<T>): Promise<T> {
  try {
    return await asked;
  } catch (error) {
    throw error instanceof NotAnswering ? new RequestError(504, error.message) : error;
  }
}
