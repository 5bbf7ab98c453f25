import { existsSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import {
  type Checksum,
  type LogRow,
  type NamedCdl,
  readCdlFile,
  readClipLog,
  readCube,
  readManifest,
  readSidecar,
  type Said,
  type StatedChecksum,
  type StatedGrade,
  withoutExtension,
} from '@gemello/core';
import { type Beside, reelOfFolder } from './beside';

const LOGS = /\.(csv|tsv)$/i;
const MANIFESTS = /\.mhl$/i;
/** Collections of grades, which may speak of many clips by their names. */
const GRADES = /\.(ccc|cdl)$/i;
/** Metadata larger than this is not read, in bytes. */
const LARGEST_PAPER = 32 * 1024 * 1024;

/** The written matter of a volume: metadata beside clips, clip logs, grades and hash manifests in their folders and above. */
export interface Papers {
  /** Takes note of a folder's files. Every folder is taken before the first clip is asked for. */
  take(folder: string, files: readonly string[]): void;
  /** The logs, manifests and collections that may speak of a clip; when one of them changes, so does what is known of it. */
  files(clip: string): string[];
  /** All that is written of a clip: sidecars first, then logs from the nearest up, then its folder's name. `files` are all its files, absolute. */
  beside(clip: string, files: readonly string[], sidecars: readonly string[]): Beside;
  /** The clip logs of the volumes, as paths. */
  logs(): string[];
  /** Files that a manifest names and that are not there: by manifest, in its order. */
  missing(): { manifest: string; files: string[] }[];
}

/** Opens the papers of the volumes below `roots`. Each is read once, and only when a clip asks for it. */
export function openPapers(roots: readonly string[]): Papers {
  const logs = new Map<string, string[]>();
  const manifests = new Map<string, string[]>();
  const collections = new Map<string, string[]>();
  const read = new Map<string, Map<string, readonly Said[]>>();
  const checksums = new Map<string, Map<string, Checksum[]>>();
  const grades = new Map<string, readonly NamedCdl[]>();

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

  const gradesOf = (file: string): readonly NamedCdl[] => {
    const known = grades.get(file) ?? textOf(file, (text) => readCdlFile(text).grades, []);
    grades.set(file, known);
    return known;
  };
  const statedSums = (file: string, folders: readonly string[]): StatedChecksum[] =>
    folders.flatMap((f) =>
      (manifests.get(f) ?? []).flatMap((m) =>
        (sumsOf(m).get(file) ?? []).map(({ algorithm, value }) => ({
          file: path.basename(file),
          algorithm,
          value,
          manifest: path.basename(m),
        })),
      ),
    );

  return {
    take(folder, files) {
      const at = (pattern: RegExp) => files.filter((f) => pattern.test(f)).map((f) => path.join(folder, f));
      const [ofLogs, ofManifests, ofGrades] = [at(LOGS), at(MANIFESTS), at(GRADES)];
      if (ofLogs.length > 0) logs.set(folder, ofLogs);
      if (ofGrades.length > 0) collections.set(folder, ofGrades);
      // ASC MHL keeps its manifests in a folder of their own, which speaks for the folder around it.
      const home = /^ascmhl$/i.test(path.basename(folder)) ? path.dirname(folder) : folder;
      if (ofManifests.length > 0) manifests.set(home, [...(manifests.get(home) ?? []), ...ofManifests]);
    },
    logs: () => [...logs.values()].flat(),
    missing: () =>
      [...manifests.values()].flat().flatMap((manifest) => {
        const files = [...sumsOf(manifest).keys()].filter((f) => !existsSync(f));
        return files.length > 0 ? [{ manifest, files }] : [];
      }),
    files: (clip) =>
      logs.size + manifests.size + collections.size === 0
        ? []
        : above(clip).flatMap((f) => [...(logs.get(f) ?? []), ...(manifests.get(f) ?? []), ...(collections.get(f) ?? [])]),
    beside(clip, files, sidecars) {
      const folder = path.dirname(clip);
      const root = roots.find((r) => clip.startsWith(r)) ?? folder;
      if (sidecars.length === 0 && logs.size + manifests.size + collections.size === 0)
        return { sidecars, said: reelOfFolder(clip, root), checksums: [], grades: [] };
      const name = withoutExtension(path.basename(clip)).toLowerCase();
      const folders = above(clip);
      const written = sidecars
        .filter((s) => /\.xml$/i.test(s))
        .flatMap((s) => textOf(path.join(folder, s), (text) => readSidecar(text, `sidecar ${s}`), []));
      const logged = folders.flatMap((f) => (logs.get(f) ?? []).flatMap((log) => rowsOf(log).get(name) ?? []));
      const own = new Set(sidecars.map((s) => path.join(folder, s)));
      const collected = folders.flatMap((f) =>
        (collections.get(f) ?? [])
          .filter((c) => !own.has(c))
          .flatMap((c) =>
            gradesOf(c)
              .filter((g) => withoutExtension(g.id).toLowerCase() === name)
              .map((g): StatedGrade => ({ kind: 'cdl', file: path.basename(c), ...g })),
          ),
      );
      return {
        sidecars,
        said: [...written, ...logged, ...reelOfFolder(clip, root)],
        checksums: manifests.size === 0 ? [] : files.flatMap((f) => statedSums(f, folders)),
        grades: [...sidecars.flatMap((s) => gradesIn(path.join(folder, s))), ...collected],
      };
    },
  };
}

/** The grades in a file beside a clip; none when it is a file of another kind. */
function gradesIn(file: string): StatedGrade[] {
  const name = path.basename(file);
  const unread: StatedGrade = { kind: 'unreadable', file: name, why: 'It is too large, or cannot be opened.' };
  if (/\.(cdl|cc|ccc)$/i.test(name))
    return textOf(
      file,
      (text) => {
        const { grades, problems } = readCdlFile(text);
        return [
          ...grades.map((g): StatedGrade => ({ kind: 'cdl', file: name, ...g })),
          ...problems.map((why): StatedGrade => ({ kind: 'unreadable', file: name, why })),
        ];
      },
      [unread],
    );
  if (!/\.cube$/i.test(name)) return [];
  return textOf(
    file,
    (text): StatedGrade[] => {
      const lut = readCube(text);
      if ('fault' in lut) return [{ kind: 'unreadable', file: name, why: lut.fault }];
      return [{ kind: 'lut', file: name, title: lut.title, dimensions: lut.dimensions, size: lut.size }];
    },
    [unread],
  );
}

/** Reads a text file of reasonable size; `otherwise` when it cannot be read. */
function textOf<T>(file: string, use: (text: string) => T, otherwise: T): T {
  try {
    return statSync(file).size <= LARGEST_PAPER ? use(readFileSync(file, 'utf8')) : otherwise;
  } catch {
    return otherwise;
  }
}
