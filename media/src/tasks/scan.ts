import { readdirSync, realpathSync, statSync } from 'node:fs';
import path from 'node:path';
import { groupNumbered, type Original, withoutExtension } from '@gemello/core';
import { MediaError } from '../engine/av';
import { type Beside, probeMovie, probeNumbered, probeSound, probeStill, type Stamped, stampOf } from '../probe';
import { openPapers } from '../probe/papers';
import { type Report, type StopSignal, stopIfAsked } from './task';

const MOVIES = /\.(mov|mp4|m4v|mxf|avi|mkv|mts|m2ts|webm|mpg|mpeg)$/i;
const FRAMES = /\.(dpx|exr|tiff?|png|jpe?g)$/i;
const SOUNDS = /\.(wav|bwf|rf64)$/i;
const SIDECARS = /\.(xml|cdl|cc|ccc|cube|mhl|txt|json)$/i;
/** A metadata file's name may be longer than its clip's by this many characters: `A001C001M01.XML`. */
const LONGEST_TAIL = 4;
/** Fewer than this many numbered pictures of a stills format are taken for stills. */
const SHORTEST_RUN = 8;

export interface ScanPayload {
  readonly folders: readonly string[];
  /** Stamps of clips that are known already, by path; those that still bear theirs are not opened again. */
  readonly known?: ReadonlyMap<string, string>;
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
 * stop the scan. What is new or changed is given to `found` one by one, in path order in each folder, and
 * not held: memory does not grow with the clips. When it is stopped, what was found by then stands.
 */
export function* scanSteps({ folders, known }: ScanPayload, report: Report, signal: StopSignal): Generator<Original, ScanSummary> {
  const roots = folders.map((f) => realpathSync(path.resolve(f)));
  const problems: ScanProblem[] = [];
  const papers = openPapers(roots);
  // Papers may speak of clips in any folder, so that all are known before the first clip is opened.
  let total = 0;
  const places: string[] = [];
  for (const { folder, files } of foldersBelow(roots, problems, signal)) {
    papers.take(folder, files);
    const count = jobsOf(folder, files).length;
    total += count;
    if (count > 0) places.push(folder);
  }
  const unchanged: string[] = [];
  let done = 0;
  for (const folder of places)
    for (const job of jobsOf(folder, listFolder(folder, roots, []).files)) {
      stopIfAsked(signal);
      report({ done: done++, total, what: job.name });
      try {
        const files = job.files.map((f) => job.folder + f);
        const path = files[0] as string;
        const stamped = stampOf(files, [...job.sidecars.map((s) => job.folder + s), ...papers.files(path)]);
        if (known?.get(path) === stamped.stamp) unchanged.push(path);
        else yield job.probe(papers.beside(path, files, job.sidecars), stamped);
      } catch (error) {
        // A file that cannot be read, or went away meanwhile, does not keep the others from being found.
        if (!(error instanceof MediaError) && !('code' in (error as object))) throw error;
        problems.push({ path: job.folder + job.name, message: (error as Error).message });
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

interface Job {
  /** With a separator at its end. */
  readonly folder: string;
  /** The name of its first file, by which it is known. */
  readonly name: string;
  /** Every file of the clip, as names. */
  readonly files: readonly string[];
  readonly sidecars: readonly string[];
  readonly probe: (beside: Beside, stamped: Stamped) => Original;
}

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
      const full = path.join(folder, entry.name);
      if (entry.isSymbolicLink()) {
        const real = realpathSync(full);
        if (!isBelow(roots, real)) continue;
        if (statSync(real).isDirectory()) folders.push(real);
        continue;
      }
      if (entry.isDirectory()) folders.push(full);
      else if (entry.isFile()) files.push(entry.name);
    }
  } catch (error) {
    problems.push({ path: folder, message: `Cannot look into the folder: ${(error as Error).message}` });
  }
  return { files: files.sort(), folders };
}

function jobsOf(folder: string, files: readonly string[]): Job[] {
  const inside = folder.endsWith(path.sep) ? folder : folder + path.sep;
  const sidecarsOf = sidecarFinder(files);
  const one = (name: string, probe: (file: string, beside: Beside, stamped: Stamped) => Original): Job => ({
    folder: inside,
    name,
    files: [name],
    sidecars: sidecarsOf(withoutExtension(name)),
    probe: (beside, stamped) => probe(inside + name, beside, stamped),
  });
  const jobs: Job[] = [
    ...files.filter((f) => MOVIES.test(f)).map((f) => one(f, probeMovie)),
    ...files.filter((f) => SOUNDS.test(f)).map((f) => one(f, probeSound)),
  ];
  const { runs, singles } = groupNumbered(files.filter((f) => FRAMES.test(f)));
  const stills = [...singles];
  for (const run of runs) {
    if (/^\.(dpx|exr)$/.test(run.extension) || run.files.length >= SHORTEST_RUN)
      jobs.push({
        folder: inside,
        name: run.files[0] as string,
        files: run.files,
        sidecars: sidecarsOf(run.stem),
        probe: (beside, stamped) => probeNumbered(folder, run.stem, run.files, run.gaps, beside, stamped),
      });
    else stills.push(...run.files);
  }
  jobs.push(...stills.map((f) => one(f, probeStill)));
  return jobs.sort((a, b) => (a.name < b.name ? -1 : 1));
}

/** Finds the files that belong to a clip by its name without extension: called the same, or the same with a short tail that is no other clip's. */
function sidecarFinder(files: readonly string[]): (clip: string) => string[] {
  const names = files.filter((f) => SIDECARS.test(f));
  if (names.length === 0) return () => [];
  const clips = new Set(files.filter((f) => MOVIES.test(f) || SOUNDS.test(f)).map((f) => withoutExtension(f).toLowerCase()));
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
  return (clip) => byStem.get(clip.toLowerCase()) ?? [];
}
