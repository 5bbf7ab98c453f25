import { type Decision, decisionSchema, type EditList, type EventProof, ON_CUT, onEvent, type Rules } from '@gemello/core';
import { and, eq, inArray, isNotNull } from 'drizzle-orm';
import { readingOf, readingRow, readListRow } from '../readings';
import { type Database, type Transaction, write } from './open';
import { decisions, eventProofs, jobs, lists, proofs, readings, tasks } from './schema';

/** A decision as versions before the log was kept by job wrote it: about an event by its place, slips added up. */
type Former = { readonly kind: string; readonly event?: string; readonly [field: string]: unknown };

/** Events of a list by the place that stood for them before: the track's name and the position on it, `V1/7`. */
const keysByPlace = (list: EditList): Map<string, string> =>
  new Map(list.tracks.flatMap((t) => t.events.map((e, i) => [`${t.name}/${i + 1}`, e.key] as const)));

/**
 * Takes over what an earlier version kept of a job, once: decisions and proofs by list and place become decisions and
 * proofs of the job by the key of their event, slips that were added up become absolute, rules become a decision.
 * Nothing is dropped: what cannot be read as a decision any more stays in the log as a note with its text.
 */
export async function upgradeJob(db: Database, jobId: string): Promise<void> {
  const [job] = await db.select().from(jobs).where(eq(jobs.id, jobId));
  const old = await db
    .select()
    .from(decisions)
    .where(and(eq(decisions.jobId, jobId), isNotNull(decisions.listId)))
    .orderBy(decisions.id);
  const own = await db.select().from(lists).where(eq(lists.jobId, jobId));
  const ids = own.map((l) => l.id);
  const proved = ids.length > 0 ? await db.select().from(proofs).where(inArray(proofs.listId, ids)) : [];
  if (old.length === 0 && proved.length === 0 && !job?.rules) return;

  const used = new Set([...old.map((d) => d.listId), ...proved.map((p) => p.listId)]);
  const read = new Map<string, { keys: Map<string, string>; list: EditList }>();
  for (const row of own) {
    if (!used.has(row.id)) continue;
    const { list } = await readListRow(db, row);
    read.set(row.id, { keys: keysByPlace(list), list });
  }
  const newest = own.filter((l) => l.state === 'cut').sort((a, b) => b.sequence - a.sequence)[0]?.id;
  await write(async (tx) => {
    for (const { list } of read.values()) {
      const reading = readingOf(list);
      await tx
        .insert(readings)
        .values(readingRow(jobId, reading.id, reading.events))
        .onConflictDoNothing();
    }
    const slips = new Map<string, Slips>();
    for (const row of old) {
      const from = read.get(row.listId ?? '');
      const keyOf = (place: string) => from?.keys.get(place) ?? place;
      const former = row.decision as unknown as Former;
      const decision = taken(former, keyOf, slipsOf(slips, `${row.listId} ${former.event}`, former, row.withdrawnAt === null));
      await tx
        .update(decisions)
        .set({ decision, listId: null, reading: from ? readingOf(from.list).id : null })
        .where(eq(decisions.id, row.id));
    }
    // Of several lists the newest cut's proofs are those that are looked at.
    for (const proof of proved.sort((a, b) => Number(a.listId === newest) - Number(b.listId === newest))) {
      const event = read.get(proof.listId)?.keys.get(proof.event) ?? proof.event;
      const data: EventProof = { ...proof.data, event };
      const row = { jobId, event, madeFrom: proof.madeFrom, data };
      await tx
        .insert(eventProofs)
        .values(row)
        .onConflictDoUpdate({ target: [eventProofs.jobId, eventProofs.event], set: row });
    }
    if (ids.length > 0) await tx.delete(proofs).where(inArray(proofs.listId, ids));
    if (job?.rules) await ruled(tx, jobId, job.rules);
    const waiting = await tx
      .select()
      .from(tasks)
      .where(and(eq(tasks.jobId, jobId), inArray(tasks.state, ['waiting', 'running'])));
    const keys = read.get(newest ?? '')?.keys;
    for (const task of waiting)
      if (task.options.kind === 'proof' && task.options.events)
        await tx
          .update(tasks)
          .set({ options: { ...task.options, events: task.options.events.map((e) => keys?.get(e) ?? e) } })
          .where(eq(tasks.id, task.id));
  });
}

async function ruled(tx: Transaction, jobId: string, rules: Rules): Promise<void> {
  await tx.insert(decisions).values({
    jobId,
    batch: `rules-${jobId}`,
    madeAt: Date.now(),
    who: 'Gemello',
    why: 'Set in an earlier version',
    decision: { kind: 'rules', rules },
  });
  await tx.update(jobs).set({ rules: null }).where(eq(jobs.id, jobId));
}

/** What stood for one event when a decision was made: its pair, and the slips since then that are not withdrawn. */
interface Slips {
  pair: { original: string; sourceStartFrame: number } | null;
  slipped: number;
}

/** The pair and the slips that a decision was made upon; what is not withdrawn counts for those after it. */
function slipsOf(all: Map<string, Slips>, event: string, former: Former, stands: boolean): Slips {
  const now = all.get(event) ?? { pair: null, slipped: 0 };
  if (stands) all.set(event, after(now, former));
  return now;
}

function after(now: Slips, former: Former): Slips {
  if (former.kind === 'pair')
    return { pair: { original: String(former.original), sourceStartFrame: Number(former.sourceStartFrame) }, slipped: 0 };
  if (former.kind === 'unpair') return { pair: null, slipped: 0 };
  return former.kind === 'slip' ? { ...now, slipped: now.slipped + Number(former.frames) } : now;
}

function taken(former: Former, keyOf: (place: string) => string, { pair, slipped }: Slips): Decision {
  const event = typeof former.event === 'string' ? keyOf(former.event) : null;
  const made =
    event === null
      ? former
      : former.kind === 'slip' && pair
        ? { kind: 'slip', event, original: pair.original, sourceStartFrame: pair.sourceStartFrame + slipped + Number(former.frames) }
        : former.kind === 'grade'
          ? { kind: 'grade', scope: onEvent(event), cdl: former.cdl }
          : { ...former, event };
  const parsed = decisionSchema.safeParse(made);
  if (parsed.success) return parsed.data;
  // A slip of what had no pair moved nothing; it stays to be read.
  const text = former.kind === 'slip' ? `Slipped by ${former.frames} frames while no original was paired` : JSON.stringify(former);
  return { kind: 'note', scope: event === null ? ON_CUT : onEvent(event), text };
}
