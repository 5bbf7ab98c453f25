import { type Decision, folderMoves, followDecisions, type Identity, type Move, movedDecision } from '@gemello/core';
import { and, eq, isNull } from 'drizzle-orm';
import type { Database } from './db/open';
import { decisions } from './db/schema';
import { readingsOf } from './readings';

export type DecisionRow = typeof decisions.$inferSelect;

/** The log of a job as it speaks of the cut that is there now. */
export interface Log {
  /** What stands, in order, each about an event of this cut or about something wider. */
  readonly decisions: readonly Decision[];
  /** The row of each of those. */
  readonly rows: readonly DecisionRow[];
  /** What speaks of an event that this cut has not, or not for certain. */
  readonly waiting: readonly DecisionRow[];
}

/** Reads the log of a job: what is not withdrawn, with paths as they are now, for the events of a reading. */
export async function readLog(db: Database, jobId: string, moves: readonly Move[], now: readonly Identity[]): Promise<Log> {
  const rows = await db
    .select()
    .from(decisions)
    .where(and(eq(decisions.jobId, jobId), isNull(decisions.withdrawnAt)))
    .orderBy(decisions.id);
  const among = await readingsOf(db, jobId);
  const all = [...moves, ...folderMoves(rows.map((r) => r.decision))];
  const { standing, waiting } = followDecisions(
    rows.map((r) => ({ decision: movedDecision(r.decision, all), events: (r.reading && among.get(r.reading)) || NONE })),
    now,
  );
  return {
    decisions: standing.map((s) => s.decision),
    rows: standing.map((s) => rows[s.at] as DecisionRow),
    waiting: waiting.map((at) => rows[at] as DecisionRow),
  };
}

const NONE: readonly Identity[] = [];
