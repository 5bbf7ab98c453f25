import { existsSync } from 'node:fs';
import path from 'node:path';
import { type Original, unprintedNamesakes } from '@gemello/core';
import { withHead } from '../headers/file';

/** What of a clip is needed to find its files. */
export type Fingerprinted = Pick<Original, 'path' | 'files'>;

/** A quick fingerprint of each clip: size, head and tail of its first and last file, opened read-only. Empty for one that is gone. */
export function fingerprints(clips: readonly Fingerprinted[]): string[] {
  return clips.map((clip) => {
    const last = clip.files.length > 1 ? path.join(path.dirname(clip.path), clip.files.at(-1) as string) : null;
    if (!existsSync(clip.path) || (last && !existsSync(last))) return '';
    return [clip.path, last].map((file) => (file ? withHead(file, (head) => head.print()) : '')).join('');
  });
}

/** The originals with fingerprints where they are of use: a scan makes none, since most clips share their name with no other. */
export function fingerprinted(originals: readonly Original[]): Original[] {
  const wanted = unprintedNamesakes(originals);
  const prints = new Map(fingerprints(wanted).map((print, i) => [wanted[i]?.path, print]));
  return originals.map((o) => (prints.has(o.path) ? { ...o, print: prints.get(o.path) as string } : o));
}
