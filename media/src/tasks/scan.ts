import { readdirSync, realpathSync, statSync } from 'node:fs';
import path from 'node:path';
import { groupNumbered, type Original, withoutExtension, withWarnings } from '@gemello/core';
import { MediaError } from '../engine/av';
import { probeMovie, probeNumbered, probeStill } from '../probe';
import { type Report, type StopSignal, stopIfAsked } from './task';

const MOVIES = /\.(mov|mp4|m4v|mxf|avi|mkv|mts|m2ts|webm|mpg|mpeg)$/i;
const FRAMES = /\.(dpx|exr|tiff?|png|jpe?g)$/i;
const SIDECARS = /\.(xml|cdl|cc|ccc|cube|mhl|csv|tsv|ale|txt|json)$/i;
/** Fewer than this many numbered pictures of a stills format are taken for stills. */
const SHORTEST_RUN = 8;

export interface ScanPayload {
  readonly folders: readonly string[];
}

/** A file that was found but could not be read. */
export interface ScanProblem {
  readonly path: string;
  readonly message: string;
}

export interface ScanResult {
  readonly originals: Original[];
  readonly problems: ScanProblem[];
}

/**
 * Finds every clip below the folders, in path order, each folder visited once. Nothing is written;
 * symbolic links are followed only where they stay below the folders. Unreadable files are named
 * in `problems` and do not stop the scan.
 */
export function scan({ folders }: ScanPayload, report: Report, signal: StopSignal): ScanResult {
  const roots = folders.map((f) => realpathSync(path.resolve(f)));
  const problems: ScanProblem[] = [];
  const jobs = listWork(roots, problems, signal);
  const originals: Original[] = [];
  jobs.forEach((job, index) => {
    stopIfAsked(signal);
    report({ done: index, total: jobs.length, what: path.basename(job.path) });
    try {
      originals.push({ ...job.probe(), sidecars: job.sidecars });
    } catch (error) {
      if (!(error instanceof MediaError)) throw error;
      problems.push({ path: job.path, message: error.message });
    }
  });
  report({ done: jobs.length, total: jobs.length, what: '' });
  return { originals: withWarnings(originals), problems };
}

interface Job {
  readonly path: string;
  readonly sidecars: string[];
  readonly probe: () => Original;
}

function listWork(roots: readonly string[], problems: ScanProblem[], signal: StopSignal): Job[] {
  const jobs: Job[] = [];
  const seen = new Set<string>();
  const pending = [...roots].reverse();
  for (let folder = pending.pop(); folder !== undefined; folder = pending.pop()) {
    stopIfAsked(signal);
    if (seen.has(folder)) continue;
    seen.add(folder);
    const { files, folders } = listFolder(folder, roots, problems);
    jobs.push(...jobsOf(folder, files));
    pending.push(...folders.sort().reverse());
  }
  return jobs;
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
  const sidecarsOf = (stem: string) => files.filter((f) => SIDECARS.test(f) && withoutExtension(f).toLowerCase() === stem.toLowerCase());
  const at = (name: string) => path.join(folder, name);
  const jobs: Job[] = files
    .filter((f) => MOVIES.test(f))
    .map((f) => ({
      path: at(f),
      sidecars: sidecarsOf(withoutExtension(f)),
      probe: () => probeMovie(at(f)),
    }));
  const { runs, singles } = groupNumbered(files.filter((f) => FRAMES.test(f)));
  const stills = [...singles];
  for (const run of runs) {
    if (/^\.(dpx|exr)$/.test(run.extension) || run.files.length >= SHORTEST_RUN)
      jobs.push({
        path: at(run.files[0] as string),
        sidecars: sidecarsOf(run.stem),
        probe: () => probeNumbered(folder, run.stem, run.files, run.gaps),
      });
    else stills.push(...run.files);
  }
  jobs.push(...stills.map((f) => ({ path: at(f), sidecars: sidecarsOf(withoutExtension(f)), probe: () => probeStill(at(f)) })));
  return jobs.sort((a, b) => (a.path < b.path ? -1 : 1));
}
