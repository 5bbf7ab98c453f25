import { and, count, desc, eq, inArray, isNotNull, isNull, type SQL, sql } from 'drizzle-orm';
import { DESK_PAGE, type DeskView, keptUntil, type WhichJobs } from '../contract';
import { type Database, database } from './db/open';
import { jobSummaries, jobs, tasks } from './db/schema';
import { folded } from './names';
import { summariseSoon } from './summaries';

const WHICH: Record<WhichJobs, SQL> = { desk: isNull(jobs.deletedAt), deleted: isNotNull(jobs.deletedAt) };
const lastChangedFirst = desc(jobs.sequence);

/**
 * One page of the desk, or of what was deleted, of the jobs that have all of these words in their name or in the title of their cut;
 * the one that changed last first. Nothing is computed for it; what is not counted yet is counted behind it. A page past the end is empty.
 */
export async function deskView(words = '', page = 0, which: WhichJobs = 'desk'): Promise<DeskView> {
  const db = await database();
  const among = WHICH[which];
  const wanted = foldedWords(words).map((word) => sql`instr(${jobs.foundBy}, ${word}) > 0`);
  const all = await countOf(db, among);
  const found = wanted.length > 0 ? await countOf(db, and(among, ...wanted)) : all;
  const ids = await pageOf(db, and(among, ...wanted), page);
  const rows = await db
    .select({ job: jobs, kept: jobSummaries })
    .from(jobs)
    .leftJoin(jobSummaries, eq(jobSummaries.jobId, jobs.id))
    .where(inArray(jobs.id, ids))
    .orderBy(lastChangedFirst);
  const running = await runningOf(db, ids);
  for (const { job, kept } of rows) if (kept?.stale !== false) summariseSoon(job.id);
  return {
    jobs: rows.map(({ job: { id, title, listTitle, createdAt, changedAt, deletedAt }, kept }) => ({
      ...kept?.data,
      ...{ id, title, listTitle, createdAt, changedAt, keptUntil: keptUntil(deletedAt) },
      running: running.get(id) ?? 0,
      counting: kept?.stale !== false,
    })),
    found,
    all,
    deleted: which === 'deleted' ? all : await countOf(db, WHICH.deleted),
  };
}

async function countOf(db: Database, which: SQL | undefined): Promise<number> {
  const [row] = await db.select({ many: count() }).from(jobs).where(which);
  return row?.many ?? 0;
}

async function pageOf(db: Database, which: SQL | undefined, page: number): Promise<string[]> {
  const rows = await db
    .select({ id: jobs.id })
    .from(jobs)
    .where(which)
    .orderBy(lastChangedFirst)
    .limit(DESK_PAGE)
    .offset(page * DESK_PAGE);
  return rows.map(({ id }) => id);
}

const foldedWords = (words: string): string[] =>
  folded(words)
    .split(/\s+/)
    .filter((word) => word !== '');

/** How many tasks of each of these jobs have not ended. */
async function runningOf(db: Database, ids: string[]): Promise<ReadonlyMap<string, number>> {
  const open = await db
    .select({ id: tasks.jobId, running: count() })
    .from(tasks)
    .where(and(inArray(tasks.jobId, ids), inArray(tasks.state, ['waiting', 'running', 'paused'])))
    .groupBy(tasks.jobId);
  return new Map(open.map((o) => [o.id, o.running]));
}
