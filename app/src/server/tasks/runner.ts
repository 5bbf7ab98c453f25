import { randomUUID } from 'node:crypto';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { clearHalves, MediaError, type Progress, refused } from '@gemello/media';
import { and, eq, inArray } from 'drizzle-orm';
import { type TaskOptions, type TaskState, type TaskView, taskOptions } from '../../contract/tasks';
import { announce } from '../changes';
import { DATA } from '../config';
import { database, refusedByDatabase, write } from '../db/open';
import { tasks } from '../db/schema';
import { firstArrivedFirst, lastArrivedFirst } from '../db/sequence';
import { log, RequestError } from '../http';
import { changed } from '../jobs';
import { workspace } from '../workspace';
import type { TaskAtWork } from './kind';
import { KINDS } from './kinds';
import { openQueue, type TakenOut } from './queue';

export type TaskRow = typeof tasks.$inferSelect;

/** Long work may be as many tasks at once as there are cores; a person waits for few. */
const queue = openQueue(perform, { background: availableParallelism(), waited: 4 });

/** Tasks of this run of the server that have not ended, and those whose end could not be written yet: they are as they are here. */
const live = new Map<string, TaskRow>();

/** The task as the screens see it. */
export const taskView = (row: TaskRow): TaskView => {
  const { id, kind, state, done, total, what, message, createdAt, endedAt } = live.get(row.id) ?? row;
  return { id, kind, state, done, total, what, message, createdAt, endedAt };
};

/** Puts a task in line. Returns its id. Throws what is wrong with its options. */
export async function startTask(
  jobId: string,
  { kind, ...options }: { kind: TaskOptions['kind'] } & Record<string, unknown>,
): Promise<string> {
  const asked = { kind, ...taskOptions[kind].parse(options) } as TaskOptions;
  await workspace(jobId);
  const row: TaskRow = {
    id: randomUUID(),
    jobId,
    kind,
    options: asked,
    state: 'waiting',
    done: 0,
    total: 0,
    what: '',
    message: '',
    result: null,
    createdAt: Date.now(),
    endedAt: null,
  };
  await write((tx) => tx.insert(tasks).values(row));
  enqueue(row);
  return row.id;
}

/** Ends a task. What it finished is kept; one that waits is never begun. */
export const stopTask = (jobId: string, taskId: string): Promise<void> => takeOut(jobId, taskId, 'stop');

/** Ends all that a job has in hand; each can go on later where the job comes back. */
export async function stopAll(jobId: string): Promise<void> {
  for (const { id } of await openTasks(jobId)) await stopTask(jobId, id);
}

/** Lets a task rest: it goes on after its last finished part when it is told to. */
export const pauseTask = (jobId: string, taskId: string): Promise<void> => takeOut(jobId, taskId, 'pause');

async function takeOut(jobId: string, taskId: string, why: TakenOut): Promise<void> {
  const row = await taskOf(jobId, taskId);
  const was = await queue.take(taskId, why);
  // One that runs is put down by the run itself, once it has let go.
  if (was === 'waited' || (was === 'unknown' && isOpen(row))) await putDown(row, why);
}

/** Lets a task go on that rests, was stopped or failed. What it finished is not done again. */
export async function goOn(jobId: string, taskId: string): Promise<void> {
  const row = await taskOf(jobId, taskId);
  if (row.state === 'done') throw new RequestError(409, 'This is finished already.');
  if (row.state === 'waiting' || row.state === 'running') return;
  await update(row, { state: 'waiting', message: '', endedAt: null });
  enqueue(row);
}

async function taskOf(jobId: string, taskId: string): Promise<TaskRow> {
  const [row] = await (await database()).select().from(tasks).where(eq(tasks.id, taskId));
  if (!row || row.jobId !== jobId) throw new RequestError(404, 'There is no such task.');
  return live.get(taskId) ?? row;
}

/** Takes up again, after a restart, what was waiting or running. */
export async function resumeTasks(): Promise<void> {
  const rows = await (await database())
    .select()
    .from(tasks)
    .where(inArray(tasks.state, ['waiting', 'running']))
    .orderBy(firstArrivedFirst);
  for (const row of rows) if (!live.has(row.id)) enqueue({ ...row, state: 'waiting' });
}

const OPEN: readonly TaskState[] = ['waiting', 'running', 'paused'];
const isOpen = ({ state }: TaskRow): boolean => OPEN.includes(state);

/** Tasks of a job that have not ended, as they are now. */
export async function openTasks(jobId: string): Promise<TaskRow[]> {
  const rows = await (await database())
    .select()
    .from(tasks)
    .where(and(eq(tasks.jobId, jobId), inArray(tasks.state, [...OPEN])));
  return rows.map((row) => live.get(row.id) ?? row).filter(isOpen);
}

/** The tasks of a job, newest first, those that have ended included. */
export async function allTasks(jobId: string): Promise<TaskRow[]> {
  const rows = await (await database()).select().from(tasks).where(eq(tasks.jobId, jobId)).orderBy(lastArrivedFirst).limit(200);
  return rows.map((row) => live.get(row.id) ?? row);
}

function enqueue(row: TaskRow): void {
  live.set(row.id, row);
  tell(row);
  const { kind } = row.options;
  queue.add({ id: row.id, lane: laneOf(row.options), alone: `${row.jobId} ${kind} ${laneOf(row.options)}` });
}

const laneOf = (options: TaskOptions): TaskAtWork['lane'] => KINDS[options.kind].lane(options as never);

/** How often it is asked whether other work is done, in milliseconds. */
const ASKED_EACH = 500;

/** Two of one kind do not wait for each other: the second is in line behind the first. */
async function atLeisure({ jobId, kind }: TaskRow, signal: AbortSignal): Promise<void> {
  const others = () =>
    [...live.values()].some((t) => t.jobId === jobId && t.kind !== kind && (t.state === 'waiting' || t.state === 'running'));
  while (!signal.aborted && others()) await sleep(ASKED_EACH);
}

async function perform(id: string, signal: AbortSignal): Promise<void> {
  const row = live.get(id);
  if (!row) return;
  const { jobId, options } = row;
  try {
    await update(row, { state: 'running' });
    const report = (p: Progress) => tell(Object.assign(row, p));
    const at: TaskAtWork = {
      id,
      jobId,
      options,
      lane: laneOf(options),
      report,
      keep: (result) => update(row, { result }),
      atLeisure: () => atLeisure(row, signal),
      signal,
    };
    const outcome = await KINDS[options.kind].run(at as never);
    await end(row, 'done', outcome.message, outcome.result);
  } catch (error) {
    // Before it can begin again.
    await tidy(row, Date.now());
    if (signal.aborted) await putDown(row, signal.reason as TakenOut);
    else await end(row, 'failed', reasonOf(error));
  } finally {
    changed(jobId);
  }
}

/**
 * Removes what work that ended early was writing, once nothing of the job that was at work beside it is. A disk that does not let it go, one
 * that became read-only say, is asked again.
 */
async function tidy(row: TaskRow, before: number): Promise<void> {
  const { id, jobId } = row;
  const mayWrite = [...live.values()].some((t) => t.jobId === jobId && t.id !== id && t.state === 'running');
  const cleared =
    !mayWrite &&
    (await clearHalves(path.join(DATA, 'jobs', jobId), before).then(
      () => true,
      () => false,
    ));
  if (!cleared) setTimeout(() => void tidy(row, before), AGAIN).unref();
}

/** Why a task failed, for the person; what is nobody's fault but ours goes to the log as well. */
function reasonOf(error: unknown): string {
  const refusal = refused(error) ?? refusedByDatabase(error);
  if (refusal) return refusal.message;
  if (!(error instanceof MediaError || error instanceof RequestError)) log.error({ err: error }, 'task failed');
  return (error as Error).message;
}

const putDown = (row: TaskRow, why: TakenOut): Promise<void> =>
  why === 'pause'
    ? update(row, { state: 'paused', message: '' })
    : end(row, 'stopped', row.state === 'waiting' ? 'Stopped before it began' : stoppedText(row));

const stoppedText = ({ options }: TaskRow): string =>
  KINDS[options.kind].keeps === 'nothing' ? 'Stopped; nothing of it is kept' : 'Stopped; what was finished is kept';

async function end(row: TaskRow, state: TaskState, message: string, result: unknown = row.result): Promise<void> {
  await update(row, { state, message, result, endedAt: Date.now() });
}

/** How long it is waited until what could not be written is tried again, in milliseconds. */
const AGAIN = 5000;

/**
 * Changes a task, for those who watch at once. Where it cannot be written, which a full disk may cause, the task is what it
 * is here, and the writing is tried again until it succeeds.
 */
async function update(row: TaskRow, change: Partial<TaskRow>): Promise<void> {
  Object.assign(row, change);
  live.set(row.id, row);
  tell(row);
  await keep(row);
}

async function keep(row: TaskRow): Promise<void> {
  const { state, message, result, endedAt } = row;
  try {
    await write((tx) => tx.update(tasks).set({ state, message, result, endedAt }).where(eq(tasks.id, row.id)));
    if (!isOpen(row)) live.delete(row.id);
  } catch (error) {
    log.error({ err: error }, 'the state of a task could not be written');
    setTimeout(() => live.get(row.id) === row && void keep(row), AGAIN).unref();
  }
}

const tell = (row: TaskRow) => announce(row.jobId, { kind: 'task', task: taskView(row) });
