import {
  type Applied,
  applyDecisions,
  type Conform,
  compile,
  DEFAULT_RULES,
  type Delivery,
  type EventProof,
  type GuideLies,
  type Heard,
  heardUnder,
  isAboutOriginal,
  laidByTimecode,
  layGuide,
  type Original,
  originalAt,
  type PairedCut,
  type Pairing,
  pairCut,
  type ReferenceLay,
  type Rules,
  rulesSchema,
  type Standing,
  withProposals,
} from '@gemello/core';
import { and, desc, eq } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { announce } from './changes';
import { type Database, database } from './db/open';
import { eventProofs, guideSounds, jobs, lists, references, volumes } from './db/schema';
import { lastArrivedFirst } from './db/sequence';
import { upgradeJob } from './db/upgrade';
import { stampAt, whereaboutsOf } from './drives';
import { RequestError } from './http';
import { type Log, readLog } from './log';
import { type LooksAt, readLooks } from './looks';
import { layMark } from './marks';
import { type Provable, provableOf } from './provable';
import { type ListRow, readingOf, readListRow } from './readings';
import { asStored, forgetOriginals, JOBS_HELD, type Survey, surveyOriginals, type VolumeState } from './survey';

/** The reference render of a job. `lay`: as the last proof found it to lie, else by its timecode; `found` says which. */
export interface JobReference {
  readonly id: string;
  readonly movie: Original;
  readonly lay: ReferenceLay;
  readonly found: boolean;
}

/** Guide sound that came as a file of its own, and where it lies; null of that before there is a cut. */
export interface JobGuide {
  readonly sound: Original;
  readonly lies: GuideLies | null;
}

/** A job with everything that follows from what was delivered and decided. Computed, never stored. */
export interface Workspace extends Survey {
  readonly id: string;
  readonly title: string;
  /** In milliseconds since 1970; null for a job on the desk. */
  readonly deletedAt: number | null;
  readonly rules: Rules;
  /** The cut as it stands: as delivered, with everything that was decided. */
  readonly list: Standing | null;
  /** How it came to stand so: where values come from, what was refused. */
  readonly applied: Applied | null;
  readonly delivery: Delivery | null;
  readonly listRow: ListRow | null;
  readonly reference: JobReference | null;
  readonly guide: JobGuide | null;
  /** What is heard under the cut, guide sound first. */
  readonly heard: readonly Heard[];
  readonly volumes: readonly VolumeState[];
  readonly log: Log;
  readonly pairings: readonly Pairing[];
  /** The same with what they were reckoned from; null while there is no cut. */
  readonly paired: PairedCut | null;
  /** Accepted pairs only: what is returned. */
  readonly conform: Conform | null;
  /** What is proved. */
  readonly provable: Provable | null;
  /** Proposals included, so that they can be looked at. */
  readonly shown: Conform | null;
  /** The cut that `shown` is compiled from. */
  readonly shownList: Standing | null;
  readonly proofs: ReadonlyMap<string, { madeFrom: string; proof: EventProof }>;
  /** The look-up tables that pictures and clips are made with, each with the stamp of its file; null where it cannot be read. */
  readonly luts: ReadonlyMap<string, string | null>;
}

const known = new LRUCache<string, Promise<Workspace>>({ max: JOBS_HELD });

const NO_LOOKS: LooksAt = new Map();
const NO_RULES: ReadonlyMap<string, Rules> = new Map();

/** How jobs were paired last: most changes touch few events, and only those are paired anew. */
const pairedLast = new LRUCache<string, PairedCut>({ max: JOBS_HELD });

/** Lets go of what was computed for a job, its originals being as they were or `anew`; the next request computes it. */
export function forgetWorkspace(jobId: string, originals: 'as they were' | 'anew'): void {
  known.delete(jobId);
  if (originals === 'anew') forgetOriginals(jobId);
}

/** Throws RequestError 404 where there is no such job. No drive is asked, so that none is waited for. */
export async function mustBeJob(jobId: string): Promise<void> {
  const [job] = await (await database()).select({ id: jobs.id }).from(jobs).where(eq(jobs.id, jobId));
  if (!job) throw new RequestError(404, NO_JOB);
}

const NO_JOB = 'There is no such job.';

/** The job as it stands, with volumes as they are mounted now. Throws RequestError 404 when there is none. */
export async function workspace(jobId: string): Promise<Workspace> {
  const found = await (known.get(jobId) ?? keep(jobId));
  const [now, luts] = await Promise.all([Promise.all(found.volumes.map((v) => whereaboutsOf(v.path))), stampsOf(found.luts.keys())]);
  const moved = found.volumes.some((v, i) => v.is !== now[i]) || [...luts].some(([lut, stamp]) => found.luts.get(lut) !== stamp);
  if (!moved) return found;
  // Everyone who watches asks again: what they were told rests on other volumes.
  const made = keep(jobId);
  announce(jobId, { kind: 'job' }, { kind: 'ledger' }, { kind: 'originals' });
  return made;
}

function keep(jobId: string): Promise<Workspace> {
  const made = load(jobId);
  known.set(jobId, made);
  made.catch(() => known.delete(jobId));
  return made;
}

async function load(jobId: string): Promise<Workspace> {
  const db = await database();
  await upgradeOnce(db, jobId);
  const [job] = await db.select().from(jobs).where(eq(jobs.id, jobId));
  if (!job) throw new RequestError(404, NO_JOB);
  const [listRow = null] = await db
    .select()
    .from(lists)
    .where(and(eq(lists.jobId, jobId), eq(lists.state, 'cut')))
    .orderBy(desc(lists.sequence))
    .limit(1);
  const [referenceRow] = await db.select().from(references).where(eq(references.jobId, jobId)).orderBy(lastArrivedFirst).limit(1);
  const [guideRow] = await db.select().from(guideSounds).where(eq(guideSounds.jobId, jobId));
  const volumeRows = await db.select().from(volumes).where(eq(volumes.jobId, jobId));
  const proofRows = await db.select().from(eventProofs).where(eq(eventProofs.jobId, jobId));

  const volumeStates = await Promise.all(
    volumeRows.map(async ({ jobId: _, ...v }): Promise<VolumeState> => {
      const is = await whereaboutsOf(v.path);
      return { ...v, is, here: is === 'here' };
    }),
  );
  const moves = volumeStates.flatMap((v) => v.formerPaths.map((from) => ({ from, to: v.path })));
  const delivery = listRow && (await readListRow(db, listRow));
  const log = await readLog(db, jobId, moves, delivery ? readingOf(delivery.list).events : []);
  const originals = await surveyOriginals(jobId, volumeStates, log.decisions.filter(isAboutOriginal));
  const applied = delivery && applyDecisions(delivery.list, log.decisions);
  const list = applied?.list ?? null;
  const rules = applied?.rules ?? rulesIn(log) ?? DEFAULT_RULES;
  const looksAt = list
    ? await readLooks(db, jobId, list, referenceRow ? { id: referenceRow.id, movie: asStored(referenceRow.data) } : null, (path) =>
        originalAt(originals.index, path),
      )
    : NO_LOOKS;
  const wish = { rules, rulesOf: applied?.rulesOf ?? NO_RULES, preference: applied?.preference ?? null, looksAt };
  const paired = list ? pairCut(list, originals.index, wish, pairedLast.get(jobId)) : null;
  if (paired) pairedLast.set(jobId, paired);
  const pairings = paired?.pairings ?? [];
  const shown = list && withProposals(list, pairings);
  const conform = list && compile(list, originals.reachable);
  const reference = referenceRow ? referenceOf(referenceRow, conform, listRow) : null;
  const guide = guideRow ? guideOf(guideRow.data, guideRow.beginsAt, conform, reference) : null;
  return {
    id: job.id,
    title: job.title,
    deletedAt: job.deletedAt,
    rules,
    list,
    applied,
    delivery,
    listRow,
    reference,
    guide,
    heard: conform ? heardUnder(guide, reference) : [],
    volumes: volumeStates,
    ...originals,
    log,
    pairings,
    paired,
    conform,
    provable: list && conform && provableOf(list, conform, originals),
    shown: shown && compile(shown, originals.reachable),
    shownList: shown ?? null,
    proofs: new Map(proofRows.map((row) => [row.event, { madeFrom: row.madeFrom, proof: row.data }])),
    luts: await stampsOf(lutsOf(conform)),
  };
}

function referenceOf({ id, data, laid }: typeof references.$inferSelect, conform: Conform | null, listRow: ListRow | null): JobReference {
  const movie = asStored(data);
  if (!conform) return { id, movie, lay: { start: movie.start, fit: null }, found: false };
  if (laid && laid.madeFrom === layMark({ id, movie }, conform, listRow)) return { id, movie, lay: laid.lay, found: true };
  return { id, movie, lay: laidByTimecode(movie, conform), found: false };
}

function guideOf(data: Original, beginsAt: number | null, conform: Conform | null, reference: JobReference | null): JobGuide {
  const sound = asStored(data);
  return { sound, lies: conform && layGuide({ sound, beginsAt }, conform, reference?.lay.start ?? null) };
}

/** The look-up tables of a cut: those that its shots are graded with, and viewed through. */
const lutsOf = (conform: Conform | null): Set<string> =>
  new Set((conform?.layers ?? []).flatMap((l) => l.shots.flatMap((s) => [s.lut, s.viewing?.lut])).flatMap((lut) => lut?.file ?? []));

const stampsOf = async (files: Iterable<string>): Promise<Map<string, string | null>> =>
  new Map(await Promise.all([...files].map(async (file) => [file, await stampAt(file)] as const)));

/** The rules that were set while there is no cut yet. */
function rulesIn({ decisions }: Log): Rules | null {
  const last = decisions.filter((d) => d.kind === 'rules').at(-1);
  return last?.kind === 'rules' ? rulesSchema.parse(last.rules) : null;
}

/** Jobs of which nothing is left as an earlier version kept it. */
const upgraded = new Map<string, Promise<void>>();

function upgradeOnce(db: Database, jobId: string): Promise<void> {
  const made = upgraded.get(jobId) ?? upgradeJob(db, jobId);
  upgraded.set(jobId, made);
  made.catch(() => upgraded.delete(jobId));
  return made;
}
