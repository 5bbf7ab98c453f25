import { type Find, findsAmong, form, type Original, plural, type Sought, soughtBy } from '@gemello/core';
import type { FileFault } from '@gemello/media';
import type { SearchResult } from '../../../contract';
import { RequestError } from '../../http';
import { mediaThreads } from '../../media';
import { allowedAt, noFolder } from '../../roots';
import { workspace } from '../../workspace';
import type { Kind, Outcome, TaskAtWork } from '../kind';

/**
 * Looks through a folder for what the cut lacks: first for files that bear a name or have the size of one, then through all
 * others, which are opened for their timecode. Nothing is taken in: a person adds the folder that holds what was found.
 */
export const search: Kind<'search'> = { lane: () => 'background', keeps: 'what is finished', run: searchFolder };

/** What was found is told anew no sooner than this, in milliseconds: each time all of it is held against the cut. */
const TOLD_EACH = 1000;

async function searchFolder({ jobId, options, report, signal, keep }: TaskAtWork<'search'>): Promise<Outcome> {
  const { kind, real } = await allowedAt(options.folder, noFolder(options.folder));
  if (kind !== 'folder') throw new RequestError(404, noFolder(options.folder));
  const w = await workspace(jobId);
  const { paired, applied } = w;
  if (!paired || !applied) throw new RequestError(409, 'There is no list yet.');
  const byPath = new Map(w.originals.map((o) => [o.original.path, o.original]));
  const known = (path: string) => byPath.get(path);
  const sought = soughtBy(paired, known);
  const stamps = new Map(w.originals.flatMap((o) => (o.here ? [[o.original.path, o.original.stamp] as const] : [])));
  const found: Original[] = [];
  const problems: FileFault[] = [];
  let finds: readonly Find[] = [];
  let told = Date.now();
  const tell = async () => {
    finds = findsAmong(paired, applied.list, found, known);
    const result: SearchResult = { folder: real, opened: found.length, finds, problems };
    await keep(result);
  };
  const pass = async (what: string, only: Sought | undefined) => {
    const ended = await mediaThreads().scan(
      { folders: [real], known: stamps, ...(only ? { only } : {}) },
      (batch) => {
        for (const o of batch) stamps.set(o.path, o.stamp);
        found.push(...batch);
        if (Date.now() - told < TOLD_EACH) return;
        told = Date.now();
        void tell();
      },
      { report: (p) => report({ ...p, what: `${what}: ${p.what}` }), signal },
    );
    problems.push(...ended.problems);
    await tell();
  };
  const wanted = new Set(paired.pairings.flatMap((p) => (p.state === 'away' || p.state === 'unpaired' ? [p.event.key] : [])));
  const left = () => wanted.size - new Set(finds.flatMap((f) => f.events)).size;
  if (wanted.size > 0) await pass('by name and size', sought);
  if (left() > 0) await pass('by timecode and content', undefined);
  const result: SearchResult = { folder: real, opened: found.length, finds, problems };
  return { message: messageOf(wanted.size, left(), finds.length, real), result };
}

function messageOf(wanted: number, left: number, files: number, folder: string): string {
  if (wanted === 0) return 'No event is offline';
  if (files === 0) return `None of the ${plural(wanted, 'offline event')} was found in ${folder}`;
  const found = `${plural(files, 'file')} found for ${plural(wanted - left, 'offline event')}`;
  return left === 0 ? found : `${found}; ${left} ${form(left, 'has', 'have')} none there`;
}
