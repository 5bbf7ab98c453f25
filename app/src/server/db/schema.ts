import type {
  Decision,
  EventProof,
  ListOptions,
  MeasuredChecksum,
  Original,
  PictureLook,
  ReferenceLay,
  Replaced,
  ReturnAsked,
  Rules,
} from '@gemello/core';
import { blob, index, integer, primaryKey, real, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import type { StoredSummary } from '../../contract';
import type { ListState } from '../../contract/lists';
import type { OriginalFilter } from '../../contract/originals';
import type { TaskKind, TaskOptions, TaskState } from '../../contract/tasks';

/** What a scan saw on a volume besides clips. Paths are absolute. */
export interface VolumePapers {
  readonly logs: readonly string[];
  readonly missing: readonly { readonly manifest: string; readonly files: readonly string[] }[];
  /** What could not be read; absent where it was last scanned by an earlier version. */
  readonly unread?: readonly { readonly path: string; readonly message: string }[];
}

/** One piece of work. Times are milliseconds since 1970, UTC. */
export const jobs = sqliteTable(
  'jobs',
  {
    id: text('id').primaryKey(),
    title: text('title').notNull(),
    /** Rules as earlier versions kept them; null once they are a decision (upgrade.ts). */
    rules: text('rules', { mode: 'json' }).$type<Rules | null>(),
    createdAt: integer('created_at').notNull(),
    /** When it was deleted; it can be brought back until it is cleared away (jobs.ts). */
    deletedAt: integer('deleted_at'),
    /** When anything in it was last decided, delivered or found. */
    changedAt: integer('changed_at').notNull().default(0),
    /** The title of its cut, as it was counted last. */
    listTitle: text('list_title'),
    /** By what it is found (names.ts); null where a version before kept it, until the next start. */
    foundBy: text('found_by'),
    /** The one that changed last has the greatest (sequence.ts). */
    sequence: integer('sequence').notNull().default(0),
  },
  (t) => [index('jobs_by_change').on(t.sequence)],
);

/** What the desk shows of a job, kept so that it need not be computed for the desk; `stale` once the job has changed since. Apart from `jobs`, which the desk goes through whole. */
export const jobSummaries = sqliteTable('job_summaries', {
  jobId: text('job_id')
    .primaryKey()
    .references(() => jobs.id),
  data: text('data', { mode: 'json' }).$type<StoredSummary>().notNull(),
  stale: integer('stale', { mode: 'boolean' }).notNull(),
});

/**
 * A cut as it was delivered, in one file or several. `arrived`: looked at, not yet taken in; `cut`: the
 * newest of these is the job's cut; `beside`: kept to be compared with it.
 */
export const lists = sqliteTable('lists', {
  id: text('id').primaryKey(),
  jobId: text('job_id')
    .notNull()
    .references(() => jobs.id),
  state: text('state').$type<ListState>().notNull(),
  /** What a person said of it that it does not say itself. */
  options: text('options', { mode: 'json' }).$type<ListOptions>().notNull(),
  createdAt: integer('created_at').notNull(),
  /** The one that came, or was taken in, last has the greatest (sequence.ts). */
  sequence: integer('sequence').notNull().default(0),
});

/** A file of a list, byte for byte as it came: it is never changed, and read anew from it. `place` goes from the bottom layer up. */
export const listFiles = sqliteTable(
  'list_files',
  {
    listId: text('list_id')
      .notNull()
      .references(() => lists.id),
    place: integer('place').notNull(),
    fileName: text('file_name').notNull(),
    bytes: blob('bytes', { mode: 'buffer' }).notNull(),
  },
  (t) => [index('list_files_list').on(t.listId)],
);

/** The reference render: a movie with what its header says. */
export const references = sqliteTable('reference_movies', {
  id: text('id').primaryKey(),
  jobId: text('job_id')
    .notNull()
    .references(() => jobs.id),
  data: text('data', { mode: 'json' }).$type<Original>().notNull(),
  createdAt: integer('created_at').notNull(),
  /** How a proof found it to lie against the cut, and what that was found from; null where none has looked. */
  laid: text('laid', { mode: 'json' }).$type<{ readonly madeFrom: string; readonly lay: ReferenceLay } | null>(),
});

/** Guide sound of a job that came as a file of its own. */
export const guideSounds = sqliteTable('guide_sounds', {
  jobId: text('job_id')
    .primaryKey()
    .references(() => jobs.id),
  data: text('data', { mode: 'json' }).$type<Original>().notNull(),
  /** When its first sample is heard by its own timecode, in seconds from midnight; null where it has none. */
  beginsAt: real('begins_at'),
});

/** A folder tree that holds media and may come and go. `path` is absolute, links resolved. */
export const volumes = sqliteTable('volumes', {
  id: text('id').primaryKey(),
  jobId: text('job_id')
    .notNull()
    .references(() => jobs.id),
  path: text('path').notNull(),
  name: text('name').notNull(),
  /** Where the volume was before it was found again elsewhere; paths below them are read as below `path`. */
  formerPaths: text('former_paths', { mode: 'json' }).$type<string[]>().notNull().default([]),
  scannedAt: integer('scanned_at'),
  /** What the last scan found but originals: clip logs, what manifests name that is not there, what could not be read. */
  papers: text('papers', { mode: 'json' }).$type<VolumePapers | null>(),
});

/** Originals as the last scan of their volume found them; kept when the volume goes away. */
export const originals = sqliteTable(
  'originals',
  {
    path: text('path').notNull(),
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id),
    volumeId: text('volume_id')
      .notNull()
      .references(() => volumes.id),
    data: text('data', { mode: 'json' }).$type<Original>().notNull(),
    here: integer('here', { mode: 'boolean' }).notNull(),
  },
  (t) => [index('originals_job').on(t.jobId, t.volumeId), index('originals_path').on(t.jobId, t.path)],
);

/**
 * Checksums as they were measured, by the path of the clip; each holds while the clip's stamp is the
 * same. `file` is the name of one of the clip's files.
 */
export const measurements = sqliteTable(
  'measurements',
  {
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id),
    path: text('path').notNull(),
    stamp: text('stamp').notNull(),
    sums: text('sums', { mode: 'json' }).$type<readonly MeasuredChecksum[]>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.path] })],
);

/**
 * The events of a reading of a list that decisions were made about: who they were, so that they are found in another
 * reading or version of the cut. The same reading is kept once.
 */
export const readings = sqliteTable(
  'readings',
  {
    /** Made of what it holds. */
    id: text('id').notNull(),
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id),
    /** `Identity[]` as JSON, gzipped. */
    events: blob('events', { mode: 'buffer' }).notNull(),
    createdAt: integer('created_at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.id] })],
);

/**
 * The log of decisions of a job, append-only; an undone one is marked as withdrawn. Those made at once share a `batch`.
 * What it is about stands in the decision itself; `reading` names the events it was made among.
 */
export const decisions = sqliteTable(
  'decisions',
  {
    id: integer('id').primaryKey({ autoIncrement: true }),
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id),
    /** The list that an earlier version kept it for; null once it was taken over (upgrade.ts). */
    listId: text('list_id').references(() => lists.id),
    /** Null where it is about no event. */
    reading: text('reading'),
    batch: text('batch').notNull(),
    madeAt: integer('made_at').notNull(),
    who: text('who').notNull(),
    /** Why, in the words of whoever decided; empty where they gave none. */
    why: text('why').notNull().default(''),
    decision: text('decision', { mode: 'json' }).$type<Decision>().notNull(),
    /** The values it took the place of when it was made. */
    replaced: text('replaced', { mode: 'json' }).$type<readonly Replaced[]>(),
    withdrawnAt: integer('withdrawn_at'),
  },
  (t) => [index('decisions_list').on(t.listId), index('decisions_job').on(t.jobId)],
);

/** What people write about an original: it follows the clip, whatever volume it is found on. */
export const remarks = sqliteTable(
  'remarks',
  {
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id),
    path: text('path').notNull(),
    tags: text('tags', { mode: 'json' }).$type<string[]>().notNull(),
    note: text('note').notNull(),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.path] })],
);

/** A way to look at the originals, kept under a name. */
export const filters = sqliteTable(
  'filters',
  {
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id),
    name: text('name').notNull(),
    data: text('data', { mode: 'json' }).$type<OriginalFilter>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.name] })],
);

/** Ways in which returns are asked for, under names that people gave; for all jobs of the desk. */
export const keptReturns = sqliteTable('kept_returns', {
  name: text('name').primaryKey(),
  asked: text('asked', { mode: 'json' }).$type<ReturnAsked>().notNull(),
});

/** The newest proof of each event of a job, by its key, with what it was made from, so that it is known when it no longer holds. */
export const eventProofs = sqliteTable(
  'event_proofs',
  {
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id),
    event: text('event').notNull(),
    madeFrom: text('made_from').notNull(),
    /** The task that proved it. */
    provedBy: text('proved_by').notNull().default(''),
    data: text('data', { mode: 'json' }).$type<EventProof>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.event] })],
);

/** What was seen of the pictures of originals beside the reference at each event, by its key, with what that was seen of. */
export const pictureLooks = sqliteTable(
  'picture_looks',
  {
    jobId: text('job_id')
      .notNull()
      .references(() => jobs.id),
    event: text('event').notNull(),
    madeFrom: text('made_from').notNull(),
    /** The task that looked. */
    seenBy: text('seen_by').notNull().default(''),
    /** `files`: what the files of each original were, by its path. */
    data: text('data', { mode: 'json' })
      .$type<{ readonly looks: readonly PictureLook[]; readonly files: Readonly<Record<string, string>> }>()
      .notNull(),
  },
  (t) => [primaryKey({ columns: [t.jobId, t.event] })],
);

/** Proofs as earlier versions kept them, by list and place; empty once they were taken over (upgrade.ts). */
export const proofs = sqliteTable(
  'proofs',
  {
    listId: text('list_id')
      .notNull()
      .references(() => lists.id),
    event: text('event').notNull(),
    madeFrom: text('made_from').notNull(),
    data: text('data', { mode: 'json' }).$type<EventProof>().notNull(),
  },
  (t) => [index('proofs_list').on(t.listId)],
);

/** Long work: running, waiting and past. */
export const tasks = sqliteTable('tasks', {
  id: text('id').primaryKey(),
  jobId: text('job_id')
    .notNull()
    .references(() => jobs.id),
  kind: text('kind').$type<TaskKind>().notNull(),
  options: text('options', { mode: 'json' }).$type<TaskOptions>().notNull(),
  state: text('state').$type<TaskState>().notNull(),
  done: integer('done').notNull().default(0),
  total: integer('total').notNull().default(0),
  what: text('what').notNull().default(''),
  /** What it came to, in one line, or why it failed. */
  message: text('message').notNull().default(''),
  result: text('result', { mode: 'json' }).$type<unknown>(),
  createdAt: integer('created_at').notNull(),
  endedAt: integer('ended_at'),
});
