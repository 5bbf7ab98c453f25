import { form, type Original, plural } from '@gemello/core';
import type { FileFault, Report } from '@gemello/media';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { chunks, database, write } from '../../db/open';
import { originals, volumes } from '../../db/schema';
import { refreshGuide } from '../../guide';
import { changed, refreshReference } from '../../jobs';
import { mediaThreads } from '../../media';
import type { VolumeState } from '../../survey';
import { workspace } from '../../workspace';
import { keepInOrder } from '../keeping';
import type { Kind, Outcome } from '../kind';

/** Looks through volumes; each batch of clips is kept as it comes, and what is known already is not opened again. */
export const scan: Kind<'scan'> = {
  lane: () => 'background',
  keeps: 'what is finished',
  run: ({ jobId, options, report, signal }) => scanVolumes(jobId, options.volumes, report, signal),
};

/** A drive that is asleep takes about ten seconds: it is asked again so often, with so many milliseconds between. */
const [ASKED_AGAIN, BETWEEN] = [3, 2000];

/** The volumes that are to be looked through, once all of them answer, or it is no use to wait any longer. */
async function awake(jobId: string, only: readonly string[] | null, report: Report, signal: AbortSignal): Promise<readonly VolumeState[]> {
  for (let again = 0; ; again++) {
    const { volumes: all } = await workspace(jobId);
    const chosen = all.filter((v) => !only || only.includes(v.id));
    const silent = chosen.filter((v) => v.is === 'silent');
    if (silent.length === 0 || again === ASKED_AGAIN || signal.aborted) return chosen;
    report({ done: 0, total: 0, what: `waiting for ${silent.map((v) => v.name).join(', ')}` });
    await new Promise((resolve) => setTimeout(resolve, BETWEEN));
  }
}

/** Looks through volumes of the job, all of them or some: what is new is taken in, what is gone is kept as away. */
export async function scanVolumes(jobId: string, only: readonly string[] | null, report: Report, signal: AbortSignal): Promise<Outcome> {
  const db = await database();
  const chosen = await awake(jobId, only, report, signal);
  // Of a drive that does not answer nothing is known: what was found on it stays as it is.
  const silent = chosen.filter((v) => v.is === 'silent');
  const away = chosen.filter((v) => v.is === 'away');
  if (away.length > 0)
    await write((tx) =>
      tx
        .update(originals)
        .set({ here: false })
        .where(
          inArray(
            originals.volumeId,
            away.map((v) => v.id),
          ),
        ),
    );
  const problems: FileFault[] = [];
  let count = 0;
  let fresh = 0;
  let missing = 0;
  for (const volume of chosen.filter((v) => v.here)) {
    const mine = and(eq(originals.jobId, jobId), eq(originals.volumeId, volume.id));
    const before = await db
      .select({ path: originals.path, here: originals.here, stamp: sql<string | null>`json_extract(${originals.data}, '$.stamp')` })
      .from(originals)
      .where(mine);
    const known = new Map(before.flatMap((o) => (o.here && o.stamp ? [[o.path, o.stamp] as const] : [])));
    const at = (paths: readonly string[]) => and(mine, inArray(originals.path, [...paths]));
    const seen = new Set<string>();
    const keeping = keepInOrder(async (found: readonly Original[]) => {
      await write(async (tx) => {
        for (const part of chunks(found)) {
          await tx.delete(originals).where(at(part.map((o) => o.path)));
          await tx.insert(originals).values(part.map((data) => ({ path: data.path, jobId, volumeId: volume.id, data, here: true })));
        }
      });
    });
    const take = (found: readonly Original[]) => {
      for (const o of found) seen.add(o.path);
      keeping.take(found);
    };
    const found = await mediaThreads()
      .scan({ folders: [volume.path], known }, take, { report: (p) => report({ ...p, what: `${volume.name}: ${p.what}` }), signal })
      .finally(() => keeping.kept());
    problems.push(...found.problems);
    count += seen.size + found.unchanged.length;
    fresh += seen.size;
    missing += found.missing.reduce((sum, m) => sum + m.files.length, 0);
    const kept = new Set(found.unchanged);
    const gone = before.filter((o) => o.here && !kept.has(o.path) && !seen.has(o.path)).map((o) => o.path);
    await write(async (tx) => {
      for (const part of chunks(gone)) await tx.update(originals).set({ here: false }).where(at(part));
      const papers = { logs: found.logs, missing: found.missing, unread: found.problems };
      await tx.update(volumes).set({ scannedAt: Date.now(), papers }).where(eq(volumes.id, volume.id));
    });
  }
  if (fresh > 0) await fingerprintNamesakes(jobId);
  await refreshReference(jobId);
  await refreshGuide(jobId);
  changed(jobId);
  const parts = [`${plural(count, 'original')} found`];
  if (fresh < count) parts.push(`${fresh} of them new or changed`);
  if (problems.length > 0) parts.push(`${plural(problems.length, 'file')} could not be read`);
  if (missing > 0) parts.push(`${plural(missing, 'file')} that a manifest names ${form(missing, 'is', 'are')} not there`);
  if (away.length > 0) parts.push(`not here: ${away.map((v) => v.name).join(', ')}`);
  if (silent.length > 0) parts.push(`not answering: ${silent.map((v) => v.name).join(', ')}`);
  return { message: parts.join('; '), result: { problems } };
}

/** Clips fingerprinted at once. */
const PRINTED = 500;

/** Makes the fingerprints of clips that share their name with another, on whatever volume, and have none yet. */
async function fingerprintNamesakes(jobId: string): Promise<void> {
  const db = await database();
  const name = sql`lower(json_extract(${originals.data}, '$.clipName'))`;
  const rows = await db
    .select({ path: originals.path, files: sql<string>`json_extract(${originals.data}, '$.files')` })
    .from(originals)
    .where(
      and(
        eq(originals.jobId, jobId),
        eq(originals.here, true),
        sql`json_extract(${originals.data}, '$.print') = ''`,
        sql`${name} IN (SELECT ${name} FROM ${originals} WHERE ${originals.jobId} = ${jobId} GROUP BY 1 HAVING count(*) > 1)`,
      ),
    );
  for (const part of chunks(rows, PRINTED)) {
    const prints = await mediaThreads().fingerprints(part.map((r) => ({ path: r.path, files: JSON.parse(r.files) as string[] })));
    await write(async (tx) => {
      for (const [i, { path }] of part.entries())
        await tx
          .update(originals)
          .set({ data: sql`json_set(${originals.data}, '$.print', ${prints[i] ?? ''})` })
          .where(and(eq(originals.jobId, jobId), eq(originals.path, path)));
    });
  }
}
