import { randomUUID } from 'node:crypto';
import { realpathSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import path from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import {
  applyDecisions,
  type Decision,
  type DecisionEntry,
  decisionText,
  eventOf,
  fileMark,
  type Identity,
  isAboutOriginal,
  type Original,
  type OriginalWord,
  portableName,
  type Refused,
  refusalText,
} from '@gemello/core';
import { clearHalves } from '@gemello/media';
import { and, desc, eq, gt, isNotNull, isNull } from 'drizzle-orm';
import { keptUntil } from '../contract';
import { announce } from './changes';
import { DATA, jobFolder } from './config';
import { chunks, database, write } from './db/open';
import {
  decisions,
  eventProofs,
  filters,
  guideSounds,
  jobSummaries,
  jobs,
  listFiles,
  lists,
  measurements,
  originals,
  pictureLooks,
  proofs,
  readings,
  references,
  remarks,
  tasks,
  volumes,
} from './db/schema';
import { next } from './db/sequence';
import { log, RequestError } from './http';
import { mediaThreads } from './media';
import { nameJob } from './names';
import { readingAmong, readingOf, readingRow } from './readings';
import { allowedAt, noFolder } from './roots';
import { jobChanged } from './summaries';
import { forgetWorkspace, mustBeJob, type Workspace, workspace } from './workspace';

/** Who decides; there are no accounts on one machine. */
const WHO = process.env.GEMELLO_USER || process.env.USER || 'editor';

export async function createJob(title: string): Promise<string> {
  const id = randomUUID();
  const now = Date.now();
  await write(async (tx) => {
    await tx.insert(jobs).values({ id, title, createdAt: now, changedAt: now, sequence: next(jobs.sequence) });
    await nameJob(tx, id, { title });
  });
  return id;
}

/** Gives a job another name. */
export async function renameJob(jobId: string, title: string): Promise<void> {
  await mustBeJob(jobId);
  await write((tx) => nameJob(tx, jobId, { title }));
  decided(jobId);
}

/** Takes a job off the desk, or brings it back. Nothing of it is gone until it is cleared away. */
export async function deleteJob(jobId: string, deleted: boolean): Promise<void> {
  await mustBeJob(jobId);
  await write((tx) =>
    tx
      .update(jobs)
      .set({ deletedAt: deleted ? Date.now() : null })
      .where(eq(jobs.id, jobId)),
  );
  // Whoever works in it is told; nothing in it changed.
  forgetWorkspace(jobId, 'as they were');
  announce(jobId, { kind: 'job' });
}

/** Clears away what was deleted long ago: everything that was kept of it, and all that was made for it. Originals are not ours. */
export async function clearDeleted(now: number): Promise<void> {
  const deleted = await (await database()).select().from(jobs).where(isNotNull(jobs.deletedAt));
  for (const { id, deletedAt } of deleted) {
    if ((keptUntil(deletedAt) ?? now) >= now) continue;
    await write(async (tx) => {
      const own = await tx.select({ id: lists.id }).from(lists).where(eq(lists.jobId, id));
      for (const list of own) {
        await tx.delete(listFiles).where(eq(listFiles.listId, list.id));
        await tx.delete(proofs).where(eq(proofs.listId, list.id));
      }
      for (const table of OF_JOB) await tx.delete(table).where(eq(table.jobId, id));
      await tx.delete(jobs).where(eq(jobs.id, id));
    });
    await rm(jobFolder(id), { recursive: true, force: true });
  }
}

/** Removes what was being sent or written when the server went down last. Asked at start, before anything else is begun; what cannot be removed stays. */
export async function clearUnfinished(): Promise<void> {
  const all = await readdir(path.join(DATA, 'jobs')).catch(() => []);
  for (const job of all) {
    const folder = path.join(DATA, 'jobs', job);
    const sent = path.join(folder, 'reference');
    for (const name of await readdir(sent).catch(() => []))
      if (name.endsWith('.part')) await rm(path.join(sent, name), { force: true }).catch(() => undefined);
    await clearHalves(folder).catch(() => undefined);
  }
}

/** The tables whose rows belong to a job, each before what it refers to. */
const OF_JOB = [
  decisions,
  readings,
  measurements,
  remarks,
  filters,
  eventProofs,
  pictureLooks,
  originals,
  volumes,
  references,
  guideSounds,
  tasks,
  jobSummaries,
  lists,
];

/** Takes a movie on this machine as the reference render: one below the folders that may be looked into, or one that was uploaded. It is only read. */
export async function addReference(jobId: string, file: string): Promise<void> {
  await keepReference(jobId, await mediaThreads().probe(await deliveredFile(jobId, file)));
}

/** Where a file that was delivered with a cut really lies, below the folders that may be looked into or uploaded to the job. Throws RequestError else. */
export async function deliveredFile(jobId: string, file: string): Promise<string> {
  await mustBeJob(jobId);
  const uploaded = jobFolder(jobId, 'reference');
  const { kind, real } = await allowedAt(file, `There is no file ${file} on this machine.`, [uploaded, realpathSync(uploaded)]);
  if (kind !== 'file') throw new RequestError(404, `${file} is a folder, not a file.`);
  return real;
}

/** The newest of a job's references is the one it has. */
export async function keepReference(jobId: string, movie: Original): Promise<void> {
  await write((tx) => tx.insert(references).values({ id: randomUUID(), jobId, data: movie, createdAt: Date.now() }));
  decided(jobId);
}

/** Looks whether the reference is still the file it was; one that was replaced under its name is another reference, and what was proved against the former is stale. */
export async function refreshReference(jobId: string): Promise<void> {
  const { reference } = await workspace(jobId);
  if (!reference) return;
  const movie = await mediaThreads()
    .probe(reference.movie.path)
    .catch(() => null);
  if (!movie || fileMark(movie) === fileMark(reference.movie)) return;
  await keepReference(jobId, movie);
}

/** Keeps how a proof found a reference to lie; everyone who looks at it sees it so from now on. */
export async function keepLay(jobId: string, reference: string, laid: NonNullable<typeof references.$inferSelect.laid>): Promise<void> {
  const { reference: known } = await workspace(jobId);
  if (known?.found && isDeepStrictEqual(known.lay, laid.lay)) return;
  await write((tx) => tx.update(references).set({ laid }).where(eq(references.id, reference)));
  decided(jobId);
}

/** Letters of an ending of a file name that are kept. */
const LONGEST_ENDING = 12;
/** Where an uploaded reference is kept, by a name that cannot leave the folder. Throws RequestError 404 where there is no such job, before anything is made for it. */
export async function uploadedReferencePath(jobId: string, name: string): Promise<string> {
  await mustBeJob(jobId);
  const { name: stem, ext } = path.parse(path.basename(name));
  // The ending says what it is, and is kept however long the name.
  const ending = ext.length > 1 ? `.${portableName(ext.slice(1)).slice(0, LONGEST_ENDING)}` : '';
  return path.join(jobFolder(jobId, 'reference'), `${Date.now()}-${portableName(stem)}${ending}`);
}

/** Adds a folder as a volume. Returns its id; one that is known already is not added twice. */
export async function addVolume(jobId: string, folder: string): Promise<string> {
  const { volumes: known } = await workspace(jobId);
  const { kind, real } = await allowedAt(folder, noFolder(folder));
  if (kind !== 'folder') throw new RequestError(404, noFolder(folder));
  const same = known.find((v) => v.path === real);
  if (same) return same.id;
  const around = known.find((v) => real.startsWith(v.path + path.sep) || v.path.startsWith(real + path.sep));
  if (around)
    throw new RequestError(409, `${real} and the volume ${around.name} lie one inside the other; each clip would be found twice.`);
  const id = randomUUID();
  await write((tx) => tx.insert(volumes).values({ id, jobId, path: real, name: path.basename(real), scannedAt: null }));
  decided(jobId);
  return id;
}

/** Forgets a volume and what was found on it. Accepted pairs stay and are away until it comes back. */
export async function removeVolume(jobId: string, volumeId: string): Promise<void> {
  const { volumes: known } = await workspace(jobId);
  if (!known.some((v) => v.id === volumeId)) throw new RequestError(404, 'There is no such volume.');
  await write(async (tx) => {
    await tx.delete(originals).where(eq(originals.volumeId, volumeId));
    await tx.delete(volumes).where(eq(volumes.id, volumeId));
  });
  changed(jobId);
}

/**
 * Appends decisions to the log as one batch, which is undone as one. All are taken or none: what cannot be is refused
 * with the nearest that can. Returns the batch.
 */
export async function decide(jobId: string, made: readonly Decision[], who: string = WHO, why = ''): Promise<string> {
  const w = await workspace(jobId);
  mustBeKnown(w, made);
  const list = w.delivery?.list ?? null;
  const before = w.log.decisions.length;
  const all = [...w.log.decisions, ...made];
  const applied = list && applyDecisions(list, all, (path) => framesOf(w.reachable.get(path)));
  const refused = applied?.refused.find((r) => r.decision >= before);
  if (refused) throw refusal(refused, all[refused.decision] as Decision);
  const stranger = applied?.waiting.find((at) => at >= before);
  if (stranger !== undefined) throw new RequestError(422, `The list has no event ${eventOf(all[stranger] as Decision)}.`);
  const entries = made.map((decision, i) => ({ decision, replaced: applied?.replaced[before + i] ?? null, who, why, madeAt: Date.now() }));
  return append(jobId, entries, list && readingOf(list));
}

/** Takes in the decisions of a file as one batch. Those about events that the cut has not wait in the log. */
export async function importDecisions(jobId: string, entries: readonly DecisionEntry[], events: readonly Identity[]): Promise<string> {
  await workspace(jobId);
  const rows = entries.map(({ decision, who, when, why }) => ({
    decision,
    replaced: null,
    who: who ?? WHO,
    why: why ?? '',
    madeAt: when ?? Date.now(),
  }));
  return append(jobId, rows, readingAmong(events));
}

type Entry = Pick<typeof decisions.$inferInsert, 'decision' | 'replaced' | 'who' | 'why' | 'madeAt'>;

async function append(
  jobId: string,
  entries: readonly Entry[],
  reading: { id: string; events: readonly Identity[] } | null,
): Promise<string> {
  const batch = randomUUID();
  const rows = entries.map((entry) => ({
    ...entry,
    jobId,
    batch,
    reading: eventOf(entry.decision) === null ? null : (reading?.id ?? null),
  }));
  await write(async (tx) => {
    if (reading && rows.some((r) => r.reading !== null)) {
      const [kept] = await tx
        .select({ id: readings.id })
        .from(readings)
        .where(and(eq(readings.jobId, jobId), eq(readings.id, reading.id)));
      if (!kept)
        await tx
          .insert(readings)
          .values(readingRow(jobId, reading.id, reading.events))
          .onConflictDoNothing();
    }
    for (const part of chunks(rows)) await tx.insert(decisions).values(part);
  });
  decided(jobId);
  return batch;
}

/** How many frames an original has; a still has any number. */
const framesOf = (original: Original | undefined): number | undefined =>
  original === undefined || original.kind === 'still' ? undefined : original.frames;

/** What a decision names must be in the job. */
function mustBeKnown({ delivery, originals: known, volumes: all }: Workspace, made: readonly Decision[]): void {
  const clips = new Set(made.some(isAboutOriginal) ? known.flatMap((o) => [o.original.path, ...o.original.pieces.map((p) => p.path)]) : []);
  for (const d of made) {
    if (eventOf(d) !== null && !delivery) throw new RequestError(409, 'There is no list yet to decide about.');
    const stranger = isAboutOriginal(d) && originalsNamed(d).find((file) => !clips.has(file));
    if (stranger) throw new RequestError(422, `The job has no original ${stranger}.`);
    if (
      (d.kind === 'correct-folder' || d.kind === 'made-elsewhere') &&
      !all.some((v) => d.folder === v.path || d.folder.startsWith(v.path + path.sep))
    )
      throw new RequestError(422, `No volume of the job holds the folder ${d.folder}.`);
  }
}

/** Why a decision is not taken, and the nearest that would be, for the person and for a button. */
function refusal(refused: Refused, decision: Decision): RequestError {
  const why = refusalText(refused);
  const nearest = refused.nearest && ({ ...decision, ...refused.nearest } as Decision);
  const words = nearest ? ` The nearest that is possible: ${decisionText(nearest)}.` : '';
  return new RequestError(422, `${why[0]?.toUpperCase()}${why.slice(1)}.${words}`, nearest ? { nearest } : undefined);
}

/** The paths of the originals that a decision speaks of. */
function originalsNamed(d: OriginalWord): string[] {
  if (d.kind === 'correct-folder' || d.kind === 'made-elsewhere') return [];
  if (d.kind === 'join') return [d.original, ...d.parts];
  return d.kind === 'proxy' && d.of !== null ? [d.original, d.of] : [d.original];
}

/** Withdraws a batch of decisions, or takes the withdrawal back; the other of what it is where nothing is said. Nothing is deleted. */
export async function withdraw(jobId: string, batch: string, what?: 'undo' | 'redo'): Promise<void> {
  await write(async (tx) => {
    const rows = await tx.select().from(decisions).where(eq(decisions.batch, batch));
    const own = rows.filter((r) => r.jobId === jobId);
    if (own.length === 0) throw new RequestError(404, 'There is no such decision.');
    const stands = own[0]?.withdrawnAt === null;
    if (what && (what === 'undo') !== stands) return;
    const withdrawnAt = stands ? Date.now() : null;
    await tx.update(decisions).set({ withdrawnAt }).where(eq(decisions.batch, batch));
  });
  decided(jobId);
}

/** Withdraws everything that was decided after a batch. Nothing is deleted, and each of them can be taken up again. */
export async function backTo(jobId: string, batch: string): Promise<void> {
  await write(async (tx) => {
    const rows = await tx
      .select({ id: decisions.id })
      .from(decisions)
      .where(and(eq(decisions.jobId, jobId), eq(decisions.batch, batch)));
    if (rows.length === 0) throw new RequestError(404, 'There is no such decision.');
    const last = rows.reduce((highest, r) => Math.max(highest, r.id), 0);
    await tx
      .update(decisions)
      .set({ withdrawnAt: Date.now() })
      .where(and(eq(decisions.jobId, jobId), gt(decisions.id, last), isNull(decisions.withdrawnAt)));
  });
  decided(jobId);
}

/** Says why a batch was decided. What was decided stays as it is. */
export async function explain(jobId: string, batch: string, why: string): Promise<void> {
  const of = and(eq(decisions.jobId, jobId), eq(decisions.batch, batch));
  const explained = await write((tx) => tx.update(decisions).set({ why }).where(of));
  if (explained.rowsAffected === 0) throw new RequestError(404, 'There is no such decision.');
  announce(jobId, { kind: 'activity' });
}

/** The log of a job, newest first. */
export async function decisionLog(jobId: string) {
  return (await database()).select().from(decisions).where(eq(decisions.jobId, jobId)).orderBy(desc(decisions.id)).limit(20_000);
}

/** Everything of the job may be other than it was. */
export function changed(jobId: string): void {
  forgetWorkspace(jobId, 'anew');
  tellAll(jobId);
}

/** What is decided, delivered, noted or mounted is other than it was; what scans found and what was measured stands. */
export function decided(jobId: string): void {
  forgetWorkspace(jobId, 'as they were');
  tellAll(jobId);
}

/** What becomes known of events is told of at most this often, in milliseconds: each time the ledger is computed anew. */
const PACE = 1500;
const toTell = new Map<string, NodeJS.Timeout>();

/** More is known of some events, which are proved or of which pictures were compared; the ledger is asked for again before long. */
export function knownSoFar(jobId: string): void {
  if (toTell.has(jobId)) return;
  const later = setTimeout(() => {
    toTell.delete(jobId);
    forgetWorkspace(jobId, 'as they were');
    announce(jobId, { kind: 'ledger' });
  }, PACE);
  later.unref();
  toTell.set(jobId, later);
}

function tellAll(jobId: string): void {
  announce(jobId, { kind: 'job' }, { kind: 'ledger' }, { kind: 'originals' }, { kind: 'activity' });
  jobChanged(jobId).catch((error) => log.error({ err: error, jobId }, 'a job could not be marked as changed'));
}
