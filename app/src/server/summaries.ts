import { countStates, countVerdicts, lengthOf, type PairState, recordSpan, shotsByKey } from '@gemello/core';
import { eq } from 'drizzle-orm';
import type { JobCounts, RibbonSpan, StoredSummary } from '../contract';
import { write } from './db/open';
import { jobSummaries, jobs } from './db/schema';
import { next } from './db/sequence';
import { oneByOne } from './db/turns';
import { log, RequestError } from './http';
import { proofMark } from './marks';
import { nameJob } from './names';
import { type Workspace, workspace } from './workspace';

/** Jobs whose numbers are to be counted; one after the other, so that the desk never takes the server from those who work. */
const inTurn = oneByOne();
const waiting = new Map<string, NodeJS.Timeout>();
/** How often each job changed since the server started: one that changed while it was counted is still stale. */
const changes = new Map<string, number>();

/** A change is followed by others: it is waited this long, in milliseconds, before a job is counted. */
const QUIET = 1500;

/** Marks what is kept of a job as older than the job, and counts it anew before long. */
export async function jobChanged(jobId: string): Promise<void> {
  changes.set(jobId, (changes.get(jobId) ?? 0) + 1);
  summariseSoon(jobId);
  await write(async (tx) => {
    await tx
      .update(jobs)
      .set({ changedAt: Date.now(), sequence: next(jobs.sequence) })
      .where(eq(jobs.id, jobId));
    await tx.update(jobSummaries).set({ stale: true }).where(eq(jobSummaries.jobId, jobId));
  });
}

/** Counts a job anew before long; one after the other. */
export function summariseSoon(jobId: string): void {
  if (waiting.has(jobId)) return;
  const timer = setTimeout(() => {
    waiting.delete(jobId);
    inTurn(() => summarise(jobId)).catch((error) => {
      if (!(error instanceof RequestError)) log.error({ err: error, jobId }, 'a job could not be counted for the desk');
    });
  }, QUIET);
  timer.unref();
  waiting.set(jobId, timer);
}

/** Counts a job for the desk, and keeps that. */
export async function summarise(jobId: string): Promise<StoredSummary> {
  const before = changes.get(jobId);
  const w = await workspace(jobId);
  const data = summaryOf(w);
  await write(async (tx) => {
    const row = { jobId, data, stale: changes.get(jobId) !== before };
    await tx.insert(jobSummaries).values(row).onConflictDoUpdate({ target: jobSummaries.jobId, set: row });
    await nameJob(tx, jobId, { listTitle: w.list?.title ?? null });
  });
  return data;
}

function summaryOf(w: Workspace): StoredSummary {
  return {
    durationFrames: w.list ? lengthOf(recordSpan(w.list)) : 0,
    counts: w.list ? countsOf(w) : null,
    ribbon: smallRibbon(w),
  };
}

/** How fine the small ribbon is: parts of the cut's length. */
const PARTS = 600;

/** States from what asks for the most to what asks for nothing: of several in one part of the small ribbon the first is shown. */
const GRAVEST: readonly PairState[] = ['unpaired', 'away', 'short', 'doubtful', 'contested', 'proposed', 'paired', 'exempt'];

/** The cut in miniature: each layer in so many parts, parts of one state together. */
function smallRibbon(w: Workspace): RibbonSpan[] {
  if (!w.list) return [];
  const span = recordSpan(w.list);
  const scale = PARTS / Math.max(1, lengthOf(span));
  const layers = [...new Set(w.pairings.map((p) => p.track))];
  return layers.flatMap((track, layer) => {
    const parts: (PairState | undefined)[] = new Array(PARTS);
    for (const { track: of, event, state } of w.pairings) {
      if (of !== track) continue;
      const [from, to] = [Math.floor((event.record.in - span.in) * scale), Math.ceil((event.record.out - span.in) * scale)];
      for (let i = Math.max(0, from); i < Math.min(PARTS, to); i++) parts[i] = graver(parts[i], state);
    }
    return runsOf(parts).map(({ from, to, state }) => ({ layer, from: from / PARTS, to: to / PARTS, state }));
  });
}

const graver = (a: PairState | undefined, b: PairState): PairState => (a !== undefined && GRAVEST.indexOf(a) < GRAVEST.indexOf(b) ? a : b);

function runsOf(parts: readonly (PairState | undefined)[]): { from: number; to: number; state: PairState }[] {
  const runs: { from: number; to: number; state: PairState }[] = [];
  for (const [i, state] of parts.entries()) {
    const last = runs.at(-1);
    if (state === undefined) continue;
    if (last && last.to === i && last.state === state) last.to = i + 1;
    else runs.push({ from: i, to: i + 1, state });
  }
  return runs;
}

/** How many events stand in each state, and how many proofs that hold came out how. */
export function countsOf(w: Workspace): JobCounts {
  const proven = provenNow(w);
  const verdicts = w.pairings.map(({ event }) => ({
    verdict: (proven.has(event.key) && w.proofs.get(event.key)?.proof.verdict) || ('unchecked' as const),
  }));
  return { states: countStates(w.pairings), verdicts: countVerdicts(verdicts) };
}

/** Reckoned once for what a job is at a time: there may be ten thousand. */
const proven = new WeakMap<Workspace, ReadonlySet<string>>();

/** The events whose proof holds: what it was made from is what stands now. */
export function provenNow(w: Workspace): ReadonlySet<string> {
  const known = proven.get(w);
  if (known) return known;
  const { provable, reference } = w;
  const found = new Set<string>();
  if (provable && reference)
    for (const [event, shot] of shotsByKey(provable.conform)) {
      const stored = w.proofs.get(event);
      if (stored && stored.madeFrom === proofMark(provable.conform, shot, reference)) found.add(event);
    }
  proven.set(w, found);
  return found;
}
