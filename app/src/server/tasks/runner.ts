import { randomUUID } from 'node:crypto';
import { MediaError, type Progress, Stopped } from '@gemello/media';
import { eq, inArray } from 'drizzle-orm';
import type { TaskOptions, TaskView } from '../../contract/tasks';
import { announce } from '../changes';
import { database, write } from '../db/open';
import { tasks } from '../db/schema';
import { log, RequestError } from '../http';
import { changed } from '../jobs';
import { workspace } from '../workspace';
import { handle } from './handlers';

type TaskRow = typeof tasks.$inferSelect;

const stops = new Map<string, AbortController>();
let queue: Promise<void> = Promise.resolve();

/** The task as the screens see it. */
export const taskView = ({ id, kind, state, done, total, what, message, createdAt, endedAt }: TaskRow): TaskView => ({
  id,
  kind,
  state,
  done,
  total,
  what,
  message,
  createdAt,
  endedAt,
});

/** Puts a task in line; tasks run one after the other. Returns its id. */
export async function startTask(jobId: string, options: TaskOptions): Promise<string> {
  await workspace(jobId);
  const row: TaskRow = {
    id: randomUUID(),
    jobId,
    kind: options.kind,
    options,
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

/** Asks a task to stop. What it finished is kept; one that waits is never begun. */
export async function stopTask(jobId: string, taskId: string): Promise<void> {
  const [row] = await (await database()).select().from(tasks).where(eq(tasks.id, taskId));
  if (!row || row.jobId !== jobId) throw new RequestError(404, 'There is no such task.');
  stops.get(taskId)?.abort();
}

/** Takes up again, after a restart, what was waiting or running. */
export async function resumeTasks(): Promise<void> {
  const rows = await (await database())
    .select()
    .from(tasks)
    .where(inArray(tasks.state, ['waiting', 'running']))
    .orderBy(tasks.createdAt);
  for (const row of rows) enqueue(row);
}

function enqueue(row: TaskRow): void {
  const stop = new AbortController();
  stops.set(row.id, stop);
  tell(row);
  queue = queue.then(() => run(row, stop.signal)).catch((error) => log.error({ err: error }, 'task runner'));
}

async function run(row: TaskRow, signal: AbortSignal): Promise<void> {
  const update = async (change: Partial<TaskRow>) => {
    Object.assign(row, change);
    await write((tx) => tx.update(tasks).set(change).where(eq(tasks.id, row.id)));
    tell(row);
  };
  const end = (state: TaskRow['state'], message: string, result: unknown = null) => update({ state, message, result, endedAt: Date.now() });
  try {
    if (signal.aborted) return await end('stopped', 'Stopped before it began');
    await update({ state: 'running' });
    const outcome = await handle(row.jobId, row.options, (p: Progress) => tell(Object.assign(row, p)), signal);
    await end('done', outcome.message, outcome.result);
  } catch (error) {
    if (error instanceof Stopped || signal.aborted) return await end('stopped', 'Stopped; what was finished is kept');
    if (!(error instanceof MediaError || error instanceof RequestError)) log.error({ err: error }, 'task failed');
    await end('failed', (error as Error).message);
  } finally {
    stops.delete(row.id);
    changed(row.jobId);
  }
}

const tell = (row: TaskRow) => announce(row.jobId, { kind: 'task', task: taskView(row) });
