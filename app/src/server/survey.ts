import {
  indexOriginals,
  type MeasuredChecksum,
  type Original,
  type OriginalIndex,
  type OriginalWord,
  type Taken,
  takenAs,
} from '@gemello/core';
import { eq, sql } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { database } from './db/open';
import { measurements, originals, type VolumePapers } from './db/schema';
import type { VolumeWhereabouts } from './drives';

export interface VolumeState {
  readonly id: string;
  readonly name: string;
  readonly path: string;
  readonly formerPaths: readonly string[];
  readonly scannedAt: number | null;
  readonly papers: VolumePapers | null;
  readonly is: VolumeWhereabouts;
  /** True while it can be read. */
  readonly here: boolean;
}

/** The originals of a job: found on its volumes, taken as people say, here or away. */
export interface Survey {
  /** Every original that was ever found; `here` tells which can be read now. */
  readonly originals: readonly { original: Original; volume: VolumeState; here: boolean }[];
  /** What can be read now, by path. */
  readonly reachable: ReadonlyMap<string, Original>;
  /** What can be read now and may become a pair: proxies do not. */
  readonly pairable: readonly Original[];
  readonly index: OriginalIndex;
  /** Proxies that can be read now, by the path of an original that cannot. */
  readonly standIns: ReadonlyMap<string, Original>;
  /** For each proxy that was recognised, the path of its original. It never becomes a pair. */
  readonly proxyOf: ReadonlyMap<string, string>;
  /** Paths of clips that were made elsewhere; they never become pairs either. */
  readonly elsewhere: ReadonlySet<string>;
}

interface Stored {
  readonly volumeOf: ReadonlyMap<string, string>;
  /** Paths of what the last scan did not find. */
  readonly gone: ReadonlySet<string>;
  readonly originals: readonly Original[];
}

interface Surveyed {
  readonly stored: Stored;
  /** What people said of originals, and which volumes are here, as text. */
  readonly said: string;
  readonly taken: Taken;
  readonly mounted: string;
  readonly survey: Survey;
}

/** What is computed is held for this many jobs, those last asked for. */
export const JOBS_HELD = 12;

/** There may be a hundred thousand originals, and most decisions are about none of them: each step is kept. */
const stored = new LRUCache<string, Promise<Stored>>({ max: JOBS_HELD });
const surveyed = new LRUCache<string, Surveyed>({ max: JOBS_HELD });

/** Lets go of the originals of a job; they are read from the database anew when they are next asked for. */
export function forgetOriginals(jobId: string): void {
  stored.delete(jobId);
  surveyed.delete(jobId);
}

/** The originals of a job as they stand, with `words` taken for true of them. */
export async function surveyOriginals(jobId: string, volumes: readonly VolumeState[], words: readonly OriginalWord[]): Promise<Survey> {
  const reading = stored.get(jobId) ?? readOriginals(jobId);
  stored.set(jobId, reading);
  reading.catch(() => stored.delete(jobId));
  const read = await reading;
  const last = surveyed.get(jobId);
  const said = JSON.stringify(words);
  const mounted = JSON.stringify(volumes);
  const same = last?.stored === read && last.said === said;
  if (same && last.mounted === mounted) return last.survey;
  const taken = same ? last.taken : takenAs(read.originals, words);
  const survey = surveyOf(read, taken, volumes);
  // Another request may have read them anew meanwhile; only what was last read is kept.
  if (stored.get(jobId) === reading) surveyed.set(jobId, { stored: read, said, taken, mounted, survey });
  return survey;
}

function surveyOf(read: Stored, { originals: all, proxyOf, elsewhere }: Taken, volumes: readonly VolumeState[]): Survey {
  const byId = new Map(volumes.map((v) => [v.id, v]));
  const volumeOf = (path: string) => byId.get(read.volumeOf.get(path) ?? '');
  const isHere = (path: string) => !read.gone.has(path) && volumeOf(path)?.here === true;
  const found: { original: Original; volume: VolumeState; here: boolean }[] = [];
  for (const original of all) {
    const volume = volumeOf(original.path);
    if (!volume) continue;
    const here = original.pieces.length > 0 ? original.pieces.every((p) => isHere(p.path)) : isHere(original.path);
    found.push({ original, volume, here });
  }
  const here = found.filter((o) => o.here).map((o) => o.original);
  const pairable = proxyOf.size + elsewhere.size === 0 ? here : here.filter((o) => !proxyOf.has(o.path) && !elsewhere.has(o.path));
  const reachable = new Map(here.map((o) => [o.path, o]));
  return {
    originals: found,
    reachable,
    pairable,
    index: indexOriginals(pairable),
    standIns: standInsOf(reachable, proxyOf),
    proxyOf,
    elsewhere,
  };
}

/** What an original lacks that was stored by an earlier version, before this was asked of it. */
const UNKNOWN = {
  pixelAspect: null,
  gaps: [],
  pieces: [],
  claims: [],
  checksums: [],
  measured: [],
  grades: [],
  stamp: '',
  print: '',
} as const;

/** An original as the database has it, with what a newer version asks of it. */
export const asStored = (data: Original): Original =>
  data.gaps === undefined ? { ...UNKNOWN, ...data, clock: data.clock ?? data.rate } : data;

/** Originals read from the database at once. */
const PAGE = 20_000;

/**
 * The originals of a job as they were stored, in path order, with what was measured of them. The database
 * hands over a page of them as one text: a hundred thousand rows one by one take several times as long.
 */
async function readOriginals(jobId: string): Promise<Stored> {
  const db = await database();
  const sums = new Map((await db.select().from(measurements).where(eq(measurements.jobId, jobId))).map((m) => [m.path, m]));
  const volumeOf = new Map<string, string>();
  const gone = new Set<string>();
  const found: Original[] = [];
  for (let last = ''; ; ) {
    const [row] = await db.values<[string | null]>(
      sql`SELECT group_concat('["' || volume_id || '",' || here || ',' || data || ']', ',') FROM
          (SELECT volume_id, here, data FROM ${originals} WHERE job_id = ${jobId} AND path > ${last} ORDER BY path LIMIT ${PAGE})`,
    );
    const page = JSON.parse(`[${row?.[0] ?? ''}]`) as [string, number, Original][];
    for (const [volumeId, here, data] of page) {
      volumeOf.set(data.path, volumeId);
      if (here === 0) gone.add(data.path);
      found.push(measuredAs(asStored(data), sums.get(data.path)));
    }
    if (page.length < PAGE) return { volumeOf, gone, originals: found };
    last = found.at(-1)?.path ?? '';
  }
}

/** What was measured of a file counts as long as the file is as it was. */
const measuredAs = (original: Original, kept: { stamp: string; sums: readonly MeasuredChecksum[] } | undefined): Original =>
  kept?.stamp === original.stamp ? { ...original, measured: kept.sums } : original;

function standInsOf(here: ReadonlyMap<string, Original>, proxyOf: ReadonlyMap<string, string>): Map<string, Original> {
  const standIns = new Map<string, Original>();
  for (const [copy, whole] of proxyOf) {
    const light = here.get(copy);
    if (light && !here.has(whole)) standIns.set(whole, light);
  }
  return standIns;
}
