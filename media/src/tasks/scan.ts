import { readdirSync, realpathSync, statSync } from 'node:fs';
import path from 'node:path';
import { groupNumbered, looseName, type NumberedRun, type Original, withoutExtension } from '@gemello/core';
import { MediaError } from '../plain';
import { type Beside, probeMovie, probeNumbered, probeSound, probeStill, stampOf } from '../probe';
import { openPapers } from '../probe/papers';
import { type Report, type StopSignal, stopIfAsked } from './task';

/** What the files of a folder are, by their extensions. */
const KINDS: ReadonlyMap<string, 'movie' | 'picture' | 'sound' | 'sidecar'> = new Map([
  ...['mov', 'mp4', 'm4v', 'mxf', 'avi', 'mkv', 'mts', 'm2ts', 'webm', 'mpg', 'mpeg'].map((e) => [e, 'movie'] as const),
  ...['dpx', 'exr', 'tif', 'tiff', 'png', 'jpg', 'jpeg'].map((e) => [e, 'picture'] as const),
  ...['wav', 'bwf', 'rf64'].map((e) => [e, 'sound'] as const),
  ...['xml', 'cdl', 'cc', 'ccc', 'cube', 'mhl', 'txt', 'json'].map((e) => [e, 'sidecar'] as const),
]);
const kindOf = (file: string) => {
  const dot = file.lastIndexOf('.');
  return dot < 0 ? undefined : KINDS.get(file.slice(dot + 1).toLowerCase());
};
/** A metadata file's name may be longer than its clip's by this many characters: `A001C001M01.XML`. */
const LONGEST_TAIL = 4;
/** Fewer than this many numbered pictures of a stills format are taken for stills. */
const SHORTEST_RUN = 8;

export interface ScanPayload {
  readonly folders: readonly string[];
  /** Stamps of clips that are known already, by path; those that still bear theirs are not opened again. */
  readonly known?: ReadonlyMap<string, string>;
  /** Where given, only clips are opened that are called so, loosely, or of which the first file has one of these sizes in bytes. */
  readonly only?: { readonly names: readonly string[]; readonly bytes: readonly number[] };
}

/** A file that was found but could not be read. */
export interface ScanProblem {
  readonly path: string;
  readonly message: string;
}

/** What a scan comes to, but for the originals themselves. */
export interface ScanSummary {
  /** Paths of clips that are as they were known. */
  readonly unchanged: string[];
  readonly problems: ScanProblem[];
  /** The clip logs that lie on the volumes, as paths. */
  readonly logs: string[];
  /** Files that a hash manifest on the volumes names and that are not there. */
  readonly missing: readonly { readonly manifest: string; readonly files: readonly string[] }[];
}

export interface ScanResult extends ScanSummary {
  /** What is new or changed, in path order; warnings are each clip's own (see `withWarnings`). */
  readonly originals: Original[];
}

/**
 * Finds every clip below the folders, each folder visited once. Nothing is written; symbolic links are
 * followed only where they stay below the folders. Unreadable files are named in `problems` and do not
 * stop the scan. What is new or changed is given one by one, in path order in each folder, and not held:
 * memory does not grow with the clips. When it is stopped, what was found by then stands.
 */
export function* scanSteps({ folders, known, only }: ScanPayload, report: Report, signal: StopSignal): Generator<Original, ScanSummary> {
  const roots = folders.map((f) => realpathSync(path.resolve(f)));
  const problems: ScanProblem[] = [];
  const papers = openPapers(roots);
  // Papers may speak of clips in any folder, so that all are known before the first clip is opened.
  let total = 0;
  const places: string[] = [];
  for (const { folder, files } of foldersBelow(roots, problems, signal)) {
    papers.take(folder, files);
    const count = files.filter(holdsMedia).length;
    total += count;
    if (count > 0) places.push(folder);
  }
  const isSought = only && sought(only);
  const unchanged: string[] = [];
  let done = 0;
  for (const folder of places) {
    const written = papers.at(folder);
    const inside = folder.endsWith(path.sep) ? folder : folder + path.sep;
    for (const clip of clipsIn(listFolder(folder, roots, []).files)) {
      stopIfAsked(signal);
      const name = clip.files[0] as string;
      report({ done, total, what: name });
      done += clip.files.length;
      if (isSought && !isSought(name, inside)) continue;
      try {
        const stamp = known?.get(inside + name);
        if (stamp !== undefined && stamp === stampOf(within(inside, clip.files), written.files(clip.sidecars)).stamp)
          unchanged.push(inside + name);
        else yield probe(clip, folder, inside, written.beside(clip.files, clip.sidecars));
      } catch (error) {
        // A file that cannot be read, or went away meanwhile, does not keep the others from being found.
        if (!(error instanceof MediaError) && !('code' in (error as object))) throw error;
        problems.push({ path: inside + name, message: (error as Error).message });
      }
    }
  }
  report({ done: total, total, what: '' });
  return { unchanged, problems, logs: papers.logs(), missing: papers.missing() };
}

/** The same, with all that was found at the end. */
export function scan(payload: ScanPayload, report: Report, signal: StopSignal): ScanResult {
  const originals: Original[] = [];
  const steps = scanSteps(payload, report, signal);
  for (;;) {
    const step = steps.next();
    if (step.done) return { ...step.value, originals: originals.sort((a, b) => (a.path < b.path ? -1 : 1)) };
    originals.push(step.value);
  }
}

/** Whether a file may be one that is sought, told without opening it. */
function sought({ names, bytes }: NonNullable<ScanPayload['only']>): (name: string, inside: string) => boolean {
  const [called, sized] = [new Set(names), new Set(bytes)];
  const sizeOf = (file: string) => statSync(file, { throwIfNoEntry: false })?.size ?? 0;
  return (name, inside) => called.has(looseName(name)) || (sized.size > 0 && sized.has(sizeOf(inside + name)));
}

/** The folder below the roots that a link leads to; null when it leads elsewhere. */
function folderOfLink(link: string, roots: readonly string[], problems: ScanProblem[]): string | null {
  try {
    const real = realpathSync(link);
    return isBelow(roots, real) && statSync(real).isDirectory() ? real : null;
  } catch {
    problems.push({ path: link, message: `The link ${path.basename(link)} leads nowhere. Is what it leads to mounted?` });
    return null;
  }
}

/** The files that make one clip, as names, in order. */
interface Found {
  readonly kind: 'movie' | 'sound' | 'still' | 'frames';
  readonly files: readonly string[];
  readonly sidecars: readonly string[];
  /** Of numbered frames. */
  readonly run: NumberedRun | null;
}

function probe({ kind, files, run }: Found, folder: string, inside: string, beside: Beside): Original {
  if (run) return probeNumbered(folder, run, beside);
  const file = inside + files[0];
  if (kind === 'movie') return probeMovie(file, beside);
  return kind === 'sound' ? probeSound(file, beside) : probeStill(file, beside);
}

const within = (inside: string, files: readonly string[]) => files.map((f) => inside + f);

const holdsMedia = (file: string): boolean => {
  const kind = kindOf(file);
  return kind !== undefined && kind !== 'sidecar';
};

/** Every folder below the roots with the files in it. */
function* foldersBelow(
  roots: readonly string[],
  problems: ScanProblem[],
  signal: StopSignal,
): Generator<{ folder: string; files: string[] }> {
  const seen = new Set<string>();
  const pending = [...roots].reverse();
  for (let folder = pending.pop(); folder !== undefined; folder = pending.pop()) {
    stopIfAsked(signal);
    if (seen.has(folder)) continue;
    seen.add(folder);
    const { files, folders } = listFolder(folder, roots, problems);
    yield { folder, files };
    pending.push(...folders.sort().reverse());
  }
}

const isBelow = (roots: readonly string[], file: string) =>
  roots.some((r) => file === r || file.startsWith(r.endsWith(path.sep) ? r : r + path.sep));

function listFolder(folder: string, roots: readonly string[], problems: ScanProblem[]): { files: string[]; folders: string[] } {
  const files: string[] = [];
  const folders: string[] = [];
  try {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      if (entry.name.startsWith('.')) continue;
      if (entry.isFile()) files.push(entry.name);
      else if (entry.isDirectory()) folders.push(path.join(folder, entry.name));
      else if (entry.isSymbolicLink()) {
        const linked = folderOfLink(path.join(folder, entry.name), roots, problems);
        if (linked) folders.push(linked);
      }
    }
  } catch (error) {
    problems.push({ path: folder, message: `Cannot look into the folder: ${(error as Error).message}` });
  }
  return { files: files.sort(), folders };
}

/** The clips among the files of one folder, in the order of their first files' names. */
function clipsIn(files: readonly string[]): Found[] {
  const sidecarsOf = sidecarFinder(files);
  const clips: Found[] = [];
  const pictures: string[] = [];
  for (const name of files) {
    const kind = kindOf(name);
    if (kind === 'picture') pictures.push(name);
    else if (kind === 'movie' || kind === 'sound') clips.push({ kind, files: [name], sidecars: sidecarsOf(name), run: null });
  }
  const { runs, singles } = groupNumbered(pictures);
  for (const run of runs) {
    if (/^\.(dpx|exr)$/.test(run.extension) || run.files.length >= SHORTEST_RUN)
      clips.push({ kind: 'frames', files: run.files, sidecars: sidecarsOf(`${run.stem}${run.extension}`), run });
    else singles.push(...run.files);
  }
  for (const name of singles) clips.push({ kind: 'still', files: [name], sidecars: sidecarsOf(name), run: null });
  return clips.sort((a, b) => ((a.files[0] as string) < (b.files[0] as string) ? -1 : 1));
}

/** Finds the files that belong to a clip by its name without extension: called the same, or the same with a short tail that is no other clip's. */
function sidecarFinder(files: readonly string[]): (clip: string) => readonly string[] {
  const names = files.filter((f) => kindOf(f) === 'sidecar');
  if (names.length === 0) return () => NONE;
  const clips = new Set(files.filter((f) => kindOf(f) === 'movie' || kindOf(f) === 'sound').map((f) => withoutExtension(f).toLowerCase()));
  const byStem = new Map<string, string[]>();
  for (const name of names) {
    const stem = withoutExtension(name).toLowerCase();
    const shortest = clips.has(stem) ? stem.length : Math.max(1, stem.length - LONGEST_TAIL);
    for (let length = stem.length; length >= shortest; length--) {
      const key = stem.slice(0, length);
      const known = byStem.get(key);
      if (known) known.push(name);
      else byStem.set(key, [name]);
    }
  }
  return (clip) => byStem.get(withoutExtension(clip).toLowerCase()) ?? NONE;
}

const NONE: readonly string[] = [];
