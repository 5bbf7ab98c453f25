import { existsSync } from 'node:fs';
import {
  acceptBest,
  type Conform,
  compile,
  DEFAULT_RULES,
  type Decision,
  type Delivery,
  type EditList,
  type EventProof,
  isAboutOriginal,
  type ListOptions,
  movedDecision,
  type Original,
  type Pairing,
  pair,
  type Rules,
  readDelivery,
  type Settled,
  type Shot,
  settle,
  withCarried,
} from '@gemello/core';
import { and, desc, eq, isNull, or } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { database } from './db/open';
import { decisions, jobs, listFiles, lists, proofs, references, volumes } from './db/schema';
import { RequestError } from './http';
import { asStored, forgetOriginals, JOBS_HELD, type Survey, surveyOriginals, type VolumeState } from './survey';

/** A job with everything that follows from what was delivered and decided. Computed, never stored. */
export interface Workspace extends Survey {
  readonly id: string;
  readonly title: string;
  readonly createdAt: number;
  readonly rules: Rules;
  /** The cut as it stands: as delivered, with what was carried over from other lists. */
  readonly list: EditList | null;
  readonly delivery: Delivery | null;
  readonly listRow: ListRow | null;
  readonly reference: { id: string; movie: Original } | null;
  readonly volumes: readonly VolumeState[];
  readonly decisions: readonly Decision[];
  readonly settled: ReadonlyMap<string, Settled>;
  readonly pairings: readonly Pairing[];
  /** Accepted pairs only: what proof and return work from. */
  readonly conform: Conform | null;
  /** Proposals included, so that they can be looked at. */
  readonly shown: Conform | null;
  readonly proofs: ReadonlyMap<string, { madeFrom: string; proof: EventProof }>;
}

export type ListRow = typeof lists.$inferSelect;

const known = new LRUCache<string, Promise<Workspace>>({ max: JOBS_HELD });

/** Lets go of what was computed for a job, its originals being as they were or `anew`; the next request computes it. */
export function forgetWorkspace(jobId: string, originals: 'as they were' | 'anew'): void {
  known.delete(jobId);
  if (originals === 'anew') forgetOriginals(jobId);
}

/** The job as it stands, with volumes as they are mounted now. Throws RequestError 404 when there is none. */
export async function workspace(jobId: string): Promise<Workspace> {
  const found = await (known.get(jobId) ?? keep(jobId));
  const moved = found.volumes.some((v) => v.here !== existsSync(v.path));
  return moved ? keep(jobId) : found;
}

function keep(jobId: string): Promise<Workspace> {
  const made = load(jobId);
  known.set(jobId, made);
  made.catch(() => known.delete(jobId));
  return made;
}

async function load(jobId: string): Promise<Workspace> {
  const db = await database();
  const [job] = await db.select().from(jobs).where(eq(jobs.id, jobId));
  if (!job) throw new RequestError(404, 'There is no such job.');
  const [listRow = null] = await db
    .select()
    .from(lists)
    .where(and(eq(lists.jobId, jobId), eq(lists.state, 'cut')))
    .orderBy(desc(lists.createdAt))
    .limit(1);
  const [referenceRow] = await db.select().from(references).where(eq(references.jobId, jobId)).orderBy(desc(references.createdAt)).limit(1);
  const volumeRows = await db.select().from(volumes).where(eq(volumes.jobId, jobId));
  const about = listRow ? or(eq(decisions.listId, listRow.id), isNull(decisions.listId)) : isNull(decisions.listId);
  const made = await db
    .select()
    .from(decisions)
    .where(and(eq(decisions.jobId, jobId), about, isNull(decisions.withdrawnAt)))
    .orderBy(decisions.id);
  const proofRows = listRow ? await db.select().from(proofs).where(eq(proofs.listId, listRow.id)) : [];

  const volumeStates = volumeRows.map(({ jobId: _, ...v }): VolumeState => ({ ...v, here: existsSync(v.path) }));
  const moves = volumeStates.flatMap((v) => v.formerPaths.map((from) => ({ from, to: v.path })));
  const taken = made.map(({ decision }) => movedDecision(decision, moves));
  const originals = await surveyOriginals(jobId, volumeStates, taken.filter(isAboutOriginal));
  const delivery = listRow && (await readListRow(listRow));
  const list = delivery && withCarried(delivery.list, taken);
  const rules = job.rules ?? DEFAULT_RULES;
  const pairings = list ? pair(list, originals.index, taken, rules) : [];
  return {
    id: job.id,
    title: job.title,
    createdAt: job.createdAt,
    rules,
    list,
    delivery,
    listRow,
    reference: referenceRow ? { id: referenceRow.id, movie: asStored(referenceRow.data) } : null,
    volumes: volumeStates,
    ...originals,
    decisions: taken,
    settled: settle(taken),
    pairings,
    conform: list && compile(list, originals.pairable, taken),
    shown: list && compile(list, originals.pairable, [...taken, ...acceptBest(pairings, 'with-doubtful')]),
    proofs: new Map(proofRows.map((row) => [row.event, { madeFrom: row.madeFrom, proof: row.data }])),
  };
}

/** Readings are kept for this many lists and ways to read them; a list does not change once it is here. */
const readings = new LRUCache<string, Delivery>({ max: 6 });

/** Reads a list from its files, as it was taken in or with other options. */
export async function readListRow(row: ListRow, options: ListOptions = row.options): Promise<Delivery> {
  const files = await (await database()).select().from(listFiles).where(eq(listFiles.listId, row.id)).orderBy(listFiles.place);
  const key = JSON.stringify([row.id, files.map((f) => [f.fileName, f.bytes.length]), options]);
  const found = readings.get(key);
  if (found) return found;
  const read = readDelivery(files, options);
  readings.set(key, read);
  return read;
}

/** What the proof of a shot depends on; when it changes, the proof no longer holds. */
export function proofKey(shot: Shot, referenceId: string): string {
  return JSON.stringify([referenceId, shot.original?.path ?? null, shot.sourceStart]);
}
