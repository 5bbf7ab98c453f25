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
  /** What is written of the clips in one folder. */
  at(folder: string): FolderPapers;
  /** The clip logs of the volumes, as paths. */
  logs(): string[];
  /** Files that a manifest names and that are not there: by manifest, in its order. */
  missing(): { manifest: string; files: string[] }[];
}

/** The papers that may speak of the clips in one folder. `sidecars` are names of files beside the clip. */
export interface FolderPapers {
  /** The files to be looked at with a clip, as paths: its sidecars, then the logs, manifests and collections. */
  files(sidecars: readonly string[]): readonly string[];
  /** All that is written of a clip: sidecars first, then logs from the nearest up, then its folder's name. `files` are all its files, as names. */
  beside(files: readonly string[], sidecars: readonly string[]): Beside;
}

/** Opens the papers of the volumes below `roots`. Each is read once, and only when a clip asks for it. */
export function openPapers(roots: readonly string[]): Papers {
  const logs = new Map<string, string[]>();
  const manifests = new Map<string, string[]>();
  const collections = new Map<string, string[]>();
  const read = new Map<string, Map<string, readonly Said[]>>();
  const checksums = new Map<string, Map<string, Checksum[]>>();
  const grades = new Map<string, readonly NamedCdl[]>();

  const above = (folder: string, root: string): string[] => {
    const folders: string[] = [];
    for (let next = folder; next.startsWith(root); next = path.dirname(next)) {
      folders.push(next);
      if (next === root || next === path.dirname(next)) break;
    }
    return folders;
  };
  const rowsOf = (log: string): Map<string, readonly Said[]> => {
    const known = read.get(log);
    if (known) return known;
    const rows = new Map(
      textOf(log, (text): readonly LogRow[] => readClipLog(text, `clip log ${path.basename(log)}`), []).map((r) => [r.clip, r.said]),
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
  const collectedFor = (clip: string, folders: readonly string[], but: readonly string[]): StatedGrade[] =>
    folders.flatMap((f) =>
      (collections.get(f) ?? [])
        .filter((c) => !but.includes(c))
        .flatMap((c) =>
          gradesOf(c)
            .filter((g) => withoutExtension(g.id).toLowerCase() === clip)
            .map((g): StatedGrade => ({ kind: 'cdl', file: path.basename(c), ...g })),
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
    at(folder) {
      const root = roots.find((r) => folder.startsWith(r)) ?? folder;
      const folders = above(folder, root);
      const shared = folders.flatMap((f) => [...(logs.get(f) ?? []), ...(manifests.get(f) ?? []), ...(collections.get(f) ?? [])]);
      const reel = reelOfFolder(folder, root);
      // Most clips have nothing written of them, and all of a folder then share the same.
      const nothing: Beside = { sidecars: [], said: reel, checksums: [], grades: [], papers: [] };
      const filesWith = (sidecars: readonly string[]) =>
        sidecars.length === 0 ? shared : [...sidecars.map((s) => path.join(folder, s)), ...shared];
      return {
        files: filesWith,
        beside(files, sidecars) {
          if (sidecars.length === 0 && shared.length === 0) return nothing;
          const name = withoutExtension(files[0] as string).toLowerCase();
          const own = sidecars.map((s) => path.join(folder, s));
          const written = own
            .filter((s) => /\.xml$/i.test(s))
            .flatMap((s) => textOf(s, (text) => readSidecar(text, `sidecar ${path.basename(s)}`), []));
          const logged = folders.flatMap((f) => (logs.get(f) ?? []).flatMap((log) => rowsOf(log).get(name) ?? []));
          return {
            sidecars,
            said: [...written, ...logged, ...reel],
            checksums: manifests.size === 0 ? [] : files.flatMap((f) => statedSums(path.join(folder, f), folders)),
            grades: [...own.flatMap(gradesIn), ...collectedFor(name, folders, own)],
            papers: filesWith(sidecars),
          };
        },
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
