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
  takenAs,
  withCarried,
} from '@gemello/core';
import { and, desc, eq, isNull, or, sql } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { database } from './db/open';
import { decisions, jobs, listFiles, lists, measurements, originals, proofs, references, type VolumePapers, volumes } from './db/schema';
import { RequestError } from './http';

export interface VolumeState {
  readonly id: string;
  readonly name: string;
  readonly path: string;
  readonly formerPaths: readonly string[];
  readonly scannedAt: number | null;
  readonly papers: VolumePapers | null;
  readonly here: boolean;
}

/** A job with everything that follows from what was delivered and decided. Computed, never stored. */
export interface Workspace {
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
  /** Every original that was ever found; `here` tells which can be read now. */
  readonly originals: readonly { original: Original; volume: VolumeState; here: boolean }[];
  /** What can be read now, by path. */
  readonly reachable: ReadonlyMap<string, Original>;
  /** Light copies that can be read now, by the path of an original that cannot. */
  readonly standIns: ReadonlyMap<string, Original>;
  /** For each light copy that was recognised, the path of its original. It never becomes a pair. */
  readonly proxyOf: ReadonlyMap<string, string>;
  readonly decisions: readonly Decision[];
  readonly settled: ReadonlyMap<string, Settled>;
  readonly pairings: readonly Pairing[];
  /** Accepted pairs only: what proof and return work from. */
  readonly conform: Conform | null;
  /** Proposals included, so that they can be looked at. */
  readonly shown: Conform | null;
  readonly proofs: ReadonlyMap<string, { madeFrom: string; proof: EventProof }>;
}

/** What an original lacks that was stored by an earlier version, before this was asked of it. */
const UNKNOWN = { pixelAspect: null, pieces: [], claims: [], checksums: [], measured: [], grades: [], stamp: '', print: '' } as const;

const asStored = (data: Original): Original => (data.clock === undefined ? { ...UNKNOWN, ...data, clock: data.rate } : data);

export type ListRow = typeof lists.$inferSelect;

const known = new Map<string, Promise<Workspace>>();

/** Lets go of what was computed for a job; the next request computes it anew. */
export function forgetWorkspace(jobId: string): void {
  known.delete(jobId);
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
  const originalRows = await readOriginals(jobId);
  const about = listRow ? or(eq(decisions.listId, listRow.id), isNull(decisions.listId)) : isNull(decisions.listId);
  const made = await db
    .select()
    .from(decisions)
    .where(and(eq(decisions.jobId, jobId), about, isNull(decisions.withdrawnAt)))
    .orderBy(decisions.id);
  const proofRows = listRow ? await db.select().from(proofs).where(eq(proofs.listId, listRow.id)) : [];

  const volumeStates = volumeRows.map(({ jobId: _, ...v }): VolumeState => ({ ...v, here: existsSync(v.path) }));
  const byId = new Map(volumeStates.map((v) => [v.id, v]));
  const moves = volumeStates.flatMap((v) => v.formerPaths.map((from) => ({ from, to: v.path })));
  const taken = made.map(({ decision }) => movedDecision(decision, moves));
  const rows = originalRows.filter((row) => byId.has(row.volumeId));
  const rowAt = new Map(rows.map((row) => [row.path, row]));
  const isHere = (path: string) => {
    const row = rowAt.get(path);
    return row?.here === true && byId.get(row.volumeId)?.here === true;
  };
  const sums = new Map((await db.select().from(measurements).where(eq(measurements.jobId, jobId))).map((m) => [m.path, m]));
  const asRead = rows.map(({ data, path }): Original => {
    const known = asStored(data);
    const measured = sums.get(path);
    return measured?.stamp === known.stamp ? { ...known, measured: measured.sums } : known;
  });
  const { originals: checked, proxyOf: linked } = takenAs(asRead, taken.filter(isAboutOriginal));
  const found = checked.map((original) => ({
    original,
    volume: byId.get(rowAt.get(original.path)?.volumeId ?? '') as VolumeState,
    here: original.pieces.length > 0 ? original.pieces.every((p) => isHere(p.path)) : isHere(original.path),
  }));
  const hereNow = found.filter((o) => o.here).map((o) => o.original);
  const reachable = hereNow.filter((o) => !linked.has(o.path));
  const delivery = listRow && (await readListRow(listRow));
  const list = delivery && withCarried(delivery.list, taken);
  const rules = job.rules ?? DEFAULT_RULES;
  const pairings = list ? pair(list, reachable, taken, rules) : [];
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
    originals: found,
    reachable: new Map(hereNow.map((o) => [o.path, o])),
    standIns: standInsOf(hereNow, linked),
    proxyOf: linked,
    decisions: taken,
    settled: settle(taken),
    pairings,
    conform: list && compile(list, reachable, taken),
    shown: list && compile(list, reachable, [...taken, ...acceptBest(pairings, 'with-doubtful')]),
    proofs: new Map(proofRows.map((row) => [row.event, { madeFrom: row.madeFrom, proof: row.data }])),
  };
}

interface StoredOriginal {
  readonly path: string;
  readonly volumeId: string;
  readonly here: boolean;
  readonly data: Original;
}

/** Originals read from the database at once. */
const PAGE = 20_000;

/**
 * The originals of a job as they were stored, in path order. The database hands over a page of them as
 * one text: a hundred thousand rows one by one take several times as long.
 */
async function readOriginals(jobId: string): Promise<StoredOriginal[]> {
  const db = await database();
  const found: StoredOriginal[] = [];
  for (let last = ''; ; ) {
    const [row] = await db.values<[string | null]>(
      sql`SELECT group_concat('["' || volume_id || '",' || here || ',' || data || ']', ',') FROM
          (SELECT volume_id, here, data FROM ${originals} WHERE job_id = ${jobId} AND path > ${last} ORDER BY path LIMIT ${PAGE})`,
    );
    const page = JSON.parse(`[${row?.[0] ?? ''}]`) as [string, number, Original][];
    for (const [volumeId, here, data] of page) found.push({ path: data.path, volumeId, here: here === 1, data });
    if (page.length < PAGE) return found;
    last = found.at(-1)?.path ?? '';
  }
}

function standInsOf(here: readonly Original[], proxyOf: ReadonlyMap<string, string>): Map<string, Original> {
  const paths = new Set(here.map((o) => o.path));
  const standIns = new Map<string, Original>();
  for (const copy of here) {
    const whole = proxyOf.get(copy.path);
    if (whole && !paths.has(whole)) standIns.set(whole, copy);
  }
  return standIns;
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
