import type { ProveResult, Report, ReturnResult } from '@gemello/media';
import { and, eq, inArray } from 'drizzle-orm';
import type { TaskOptions } from '../../contract/tasks';
import { jobFolder } from '../config';
import { chunks, database } from '../db/open';
import { originals, proofs, volumes } from '../db/schema';
import { RequestError } from '../http';
import { mediaThreads } from '../media';
import { proofKey, type Workspace, workspace } from '../workspace';

/** What a task came to: one line for people, and data for later. */
export interface Outcome {
  readonly message: string;
  readonly result: unknown;
}

const plural = (n: number, one: string) => `${n} ${n === 1 ? one : `${one}s`}`;

/** Does the work of one task. Knows nothing of the runner; may be run again after a crash. */
export function handle(jobId: string, options: TaskOptions, report: Report, signal: AbortSignal): Promise<Outcome> {
  if (options.kind === 'scan') return scanVolumes(jobId, options.volumes, report, signal);
  if (options.kind === 'proof') return proveEvents(jobId, options.events, report, signal);
  return writeReturn(jobId, options, report, signal);
}

async function scanVolumes(jobId: string, only: readonly string[] | null, report: Report, signal: AbortSignal): Promise<Outcome> {
  const db = await database();
  const { volumes: all } = await workspace(jobId);
  const chosen = all.filter((v) => !only || only.includes(v.id));
  const away = chosen.filter((v) => !v.here);
  if (away.length > 0)
    await db
      .update(originals)
      .set({ here: false })
      .where(
        inArray(
          originals.volumeId,
          away.map((v) => v.id),
        ),
      );
  const problems: { path: string; message: string }[] = [];
  let count = 0;
  let fresh = 0;
  for (const volume of chosen.filter((v) => v.here)) {
    const mine = and(eq(originals.jobId, jobId), eq(originals.volumeId, volume.id));
    const before = await db.select().from(originals).where(mine);
    const known = new Map(before.flatMap((o) => (o.here && o.data.stamp ? [[o.path, o.data.stamp] as const] : [])));
    const found = await mediaThreads().scan(
      { folders: [volume.path], known },
      (p) => report({ ...p, what: `${volume.name}: ${p.what}` }),
      signal,
    );
    problems.push(...found.problems);
    count += found.originals.length + found.unchanged.length;
    fresh += found.originals.length;
    const kept = new Set(found.unchanged);
    const seen = new Set(found.originals.map((o) => o.path));
    const gone = before.filter((o) => o.here && !kept.has(o.path) && !seen.has(o.path)).map((o) => o.path);
    const at = (paths: readonly string[]) => and(mine, inArray(originals.path, [...paths]));
    await db.transaction(async (tx) => {
      for (const part of chunks([...seen])) await tx.delete(originals).where(at(part));
      const rows = found.originals.map((data) => ({ path: data.path, jobId, volumeId: volume.id, data, here: true }));
      for (const part of chunks(rows)) await tx.insert(originals).values(part);
      for (const part of chunks(gone)) await tx.update(originals).set({ here: false }).where(at(part));
      await tx.update(volumes).set({ scannedAt: Date.now() }).where(eq(volumes.id, volume.id));
    });
  }
  const parts = [`${plural(count, 'original')} found`];
  if (fresh < count) parts.push(`${fresh} of them new or changed`);
  if (problems.length > 0) parts.push(`${plural(problems.length, 'file')} could not be read`);
  if (away.length > 0) parts.push(`not here: ${away.map((v) => v.name).join(', ')}`);
  return { message: parts.join('; '), result: { problems } };
}

function readyToWork(w: Workspace) {
  if (!w.list || !w.listRow || !w.conform) throw new RequestError(409, 'There is no list yet.');
  return { list: w.list, listRow: w.listRow, conform: w.conform, reachable: w.originals.filter((o) => o.here).map((o) => o.original) };
}

async function proveEvents(jobId: string, only: readonly string[] | null, report: Report, signal: AbortSignal): Promise<Outcome> {
  const w = await workspace(jobId);
  const { list, listRow, conform, reachable } = readyToWork(w);
  if (!w.reference) throw new RequestError(409, 'There is no reference movie to prove against. Bring one in under Turnover.');
  const payload = {
    list,
    originals: reachable,
    decisions: w.decisions,
    reference: w.reference.movie,
    cache: jobFolder(jobId, 'cache'),
    only,
  };
  const result: ProveResult = await mediaThreads().prove(payload, report, signal);
  const referenceId = w.reference.id;
  const shots = new Map(conform.layers.flatMap((l) => l.shots).map((s) => [s.event.id, s]));
  const rows = result.events.flatMap((proof) => {
    const shot = shots.get(proof.event);
    return shot ? [{ listId: listRow.id, event: proof.event, madeFrom: proofKey(shot, referenceId), data: proof }] : [];
  });
  const db = await database();
  await db.transaction(async (tx) => {
    for (const part of chunks(rows)) {
      await tx.delete(proofs).where(
        and(
          eq(proofs.listId, listRow.id),
          inArray(
            proofs.event,
            part.map((r) => r.event),
          ),
        ),
      );
      await tx.insert(proofs).values(part);
    }
  });
  const differing = result.events.filter((e) => e.verdict === 'differs').length;
  const { events: _, ...rest } = result;
  return {
    message: `${result.framesCompared} frames compared in ${result.seconds.toFixed(1)} s; ${differing === 0 ? 'nothing differs' : `${plural(differing, 'event')} differ${differing === 1 ? 's' : ''}`}`,
    result: rest,
  };
}

async function writeReturn(
  jobId: string,
  options: Extract<TaskOptions, { kind: 'return' }>,
  report: Report,
  signal: AbortSignal,
): Promise<Outcome> {
  const w = await workspace(jobId);
  const { list, reachable } = readyToWork(w);
  const folder = jobFolder(jobId, 'returns', options.title.replace(/[^\w.-]+/g, '_'));
  const payload = {
    list,
    originals: reachable,
    decisions: w.decisions,
    folder,
    handles: options.handles,
    title: options.title,
    render: options.render,
  };
  const result: ReturnResult = await mediaThreads().writeReturn(payload, report, signal);
  const kept = { folder, lists: result.lists, clips: result.clips.length, problems: result.problems, warnings: result.warnings };
  const check = result.problems.length === 0 ? 'all as planned' : plural(result.problems.length, 'problem');
  return { message: options.render ? `${plural(result.clips.length, 'clip')} written; ${check}` : 'List and table written', result: kept };
}
