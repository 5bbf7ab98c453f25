import { readdirSync, readFileSync, realpathSync, statSync } from 'node:fs';
import path from 'node:path';

/** What is asked of a drive. `begun`: set to the time, in milliseconds since 1970, once a thread looks at it: until then it is not the drive that is waited for. */
export type Look = Asked & { readonly begun?: SharedArrayBuffer };
type Asked =
  | { readonly look: 'nothing'; readonly path: '' }
  | { readonly look: 'at'; readonly path: string }
  | { readonly look: 'folders'; readonly path: string }
  | { readonly look: 'bytes'; readonly path: string; readonly limit: number };

/** The answer: a place, names, the bytes of a file, or null for nothing. */
export type Seen =
  | {
      readonly kind: 'folder' | 'file' | 'other';
      readonly real: string;
      /** Its size and when it was last written: another one once it is another file. */
      readonly stamp: string;
    }
  | readonly string[]
  | Uint8Array
  | null;

/** Entry point of a thread that looks at drives; it may hang as long as they do. */
export default function look(asked: Look): Seen {
  begins(asked);
  switch (asked.look) {
    case 'nothing':
      return null;
    case 'at':
      return placeAt(asked.path);
    case 'folders':
      return foldersIn(asked.path);
    case 'bytes':
      return bytesOf(asked.path, asked.limit);
  }
}

/** Says that a thread has taken a question up. */
export function begins({ begun }: Look): void {
  if (begun) new Float64Array(begun)[0] = Date.now();
}

function placeAt(file: string): Seen {
  try {
    const real = realpathSync(path.resolve(file));
    const state = statSync(real, { bigint: true });
    const stamp = `${state.size} ${state.mtimeNs} ${state.ino}`;
    return { kind: state.isDirectory() ? 'folder' : state.isFile() ? 'file' : 'other', real, stamp };
  } catch {
    return null;
  }
}

function bytesOf(file: string, limit: number): Uint8Array | null {
  try {
    return statSync(file).size <= limit ? readFileSync(file) : null;
  } catch {
    return null;
  }
}

function foldersIn(folder: string): string[] | null {
  try {
    return readdirSync(folder, { withFileTypes: true })
      .filter((e) => e.isDirectory() && !e.name.startsWith('.'))
      .map((e) => path.join(folder, e.name))
      .sort();
  } catch {
    return null;
  }
}
