import { readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { type Checksum, type LogRow, readClipLog, readManifest, readSidecar, type Said, withoutExtension } from '@gemello/core';
import { type Beside, reelOfFolder } from './beside';

const LOGS = /\.(csv|tsv|ale)$/i;
const MANIFESTS = /\.mhl$/i;
/** Metadata larger than this is not read, in bytes. */
const LARGEST_PAPER = 8 * 1024 * 1024;

/** The written matter of a volume: metadata beside clips, clip logs and hash manifests in their folders and above. */
export interface Papers {
  /** Takes note of a folder's files. Every folder is taken before the first clip is asked for. */
  take(folder: string, files: readonly string[]): void;
  /** The logs and manifests that may speak of a clip; when one of them changes, so does what is known of it. */
  files(clip: string): string[];
  /** All that is written of a clip: sidecars first, then logs from the nearest up, then its folder's name. */
  beside(clip: string, sidecars: readonly string[]): Beside;
}

/** Opens the papers of the volumes below `roots`. Each is read once, and only when a clip asks for it. */
export function openPapers(roots: readonly string[]): Papers {
  const logs = new Map<string, string[]>();
  const manifests = new Map<string, string[]>();
  const read = new Map<string, Map<string, readonly Said[]>>();
  const checksums = new Map<string, Map<string, Checksum[]>>();

  const above = (clip: string): string[] => {
    const root = roots.find((r) => clip.startsWith(r)) ?? path.dirname(clip);
    const folders: string[] = [];
    for (let folder = path.dirname(clip); folder.startsWith(root); folder = path.dirname(folder)) {
      folders.push(folder);
      if (folder === root || folder === path.dirname(folder)) break;
    }
    return folders;
  };
  const rowsOf = (log: string): Map<string, readonly Said[]> => {
    const known = read.get(log);
    if (known) return known;
    const rows = new Map(
      textOf(log, (text): LogRow[] => readClipLog(text, `clip log ${path.basename(log)}`), []).map((r) => [r.clip, r.said]),
    );
    read.set(log, rows);
    return rows;
  };
  const sumsOf = (manifest: string): Map<string, Checksum[]> => {
    const known = checksums.get(manifest);
    if (known) return known;
    const base = /^ascmhl$/i.test(path.basename(path.dirname(manifest))) ? path.dirname(path.dirname(manifest)) : path.dirname(manifest);
    const sums = new Map<string, Checksum[]>();
    for (const sum of textOf(manifest, readManifest, [])) {
      const file = path.resolve(base, sum.file);
      sums.set(file, [...(sums.get(file) ?? []), sum]);
    }
    checksums.set(manifest, sums);
    return sums;
  };

  return {
    take(folder, files) {
      const at = (pattern: RegExp) => files.filter((f) => pattern.test(f)).map((f) => path.join(folder, f));
      const [ofLogs, ofManifests] = [at(LOGS), at(MANIFESTS)];
      if (ofLogs.length > 0) logs.set(folder, ofLogs);
      // ASC MHL keeps its manifests in a folder of their own, which speaks for the folder around it.
      const home = /^ascmhl$/i.test(path.basename(folder)) ? path.dirname(folder) : folder;
      if (ofManifests.length > 0) manifests.set(home, [...(manifests.get(home) ?? []), ...ofManifests]);
    },
    files: (clip) =>
      logs.size + manifests.size === 0 ? [] : above(clip).flatMap((f) => [...(logs.get(f) ?? []), ...(manifests.get(f) ?? [])]),
    beside(clip, sidecars) {
      const folder = path.dirname(clip);
      const root = roots.find((r) => clip.startsWith(r)) ?? folder;
      const name = withoutExtension(path.basename(clip)).toLowerCase();
      const folders = above(clip);
      const written = sidecars
        .filter((s) => /\.xml$/i.test(s))
        .flatMap((s) => textOf(path.join(folder, s), (text) => readSidecar(text, `sidecar ${s}`), []));
      const logged = folders.flatMap((f) => (logs.get(f) ?? []).flatMap((log) => rowsOf(log).get(name) ?? []));
      const sums = folders.flatMap((f) =>
        (manifests.get(f) ?? []).flatMap((m) =>
          (sumsOf(m).get(clip) ?? []).map(({ algorithm, value }) => ({ algorithm, value, manifest: path.basename(m) })),
        ),
      );
      return { sidecars, said: [...written, ...logged, ...reelOfFolder(clip, root)], checksums: sums };
    },
  };
}

/** Reads a text file of reasonable size; `otherwise` when it cannot be read. */
function textOf<T>(file: string, use: (text: string) => T, otherwise: T): T {
  try {
    return statSync(file).size <= LARGEST_PAPER ? use(readFileSync(file, 'utf8')) : otherwise;
  } catch {
    return otherwise;
  }
}
