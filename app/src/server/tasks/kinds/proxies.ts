import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { type Decision, plural } from '@gemello/core';
import { jobFolder } from '../../config';
import { write } from '../../db/open';
import { volumes } from '../../db/schema';
import { RequestError } from '../../http';
import { decide, decided } from '../../jobs';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import type { Kind, Outcome, TaskAtWork } from '../kind';
import { scanVolumes } from './scan';

/** How the volume of the proxies that were made is called. */
const NAME = 'Proxies made here';
/** Who links them to their originals. */
const WHO = 'Gemello';

/** Makes proxies into a folder of the job, which becomes one of its volumes, and links them to their originals. */
export const proxies: Kind<'proxies'> = { lane: () => 'background', keeps: 'what is finished', run: makeLightCopies };

async function makeLightCopies({ jobId, options, report, signal }: TaskAtWork<'proxies'>): Promise<Outcome> {
  const { paths, codec, size, burnIn } = options;
  const w = await workspace(jobId);
  const asked = new Set(paths);
  const clips = w.originals
    .filter((o) => o.here && asked.has(o.original.path) && !w.proxyOf.has(o.original.path))
    .map(({ original, volume }) => ({
      original,
      into: path.join(volume.name.replace(/[\\/]/g, '_'), path.dirname(path.relative(volume.path, original.path))),
    }));
  if (clips.length === 0) throw new RequestError(409, 'None of these clips is an original that is here.');
  const folder = jobFolder(jobId, 'proxies');
  const { made, problems } = await mediaThreads().makeProxies({ clips, folder, codec, size, burnIn }, { report, signal });
  if (made.length > 0) {
    await scanVolumes(jobId, [await volumeFor(jobId, folder)], () => {}, signal);
    const now = await workspace(jobId);
    const words = made
      .filter((m) => now.proxyOf.get(m.copy) !== m.original)
      .map((m): Decision => ({ kind: 'proxy', original: m.copy, of: m.original }));
    if (words.length > 0) await decide(jobId, words, WHO);
  }
  const again = made.filter((m) => m.reused).length;
  const parts = [`${plural(made.length, 'proxy', 'proxies')} made`];
  if (again > 0) parts.push(`${again} of them before`);
  if (problems.length > 0) parts.push(`${problems.length} could not be: ${problems[0]?.message}`);
  return { message: parts.join('; '), result: { folder, problems } };
}

/** The volume of the job's own folder of proxies, made when there is none. */
async function volumeFor(jobId: string, folder: string): Promise<string> {
  const known = (await workspace(jobId)).volumes.find((v) => v.path === folder);
  if (known) return known.id;
  const id = randomUUID();
  await write((tx) => tx.insert(volumes).values({ id, jobId, path: folder, name: NAME, scannedAt: null }));
  decided(jobId);
  return id;
}
