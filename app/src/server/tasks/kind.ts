import type { Lane, Report } from '@gemello/media';
import type { z } from 'zod';
import type { TaskKind, taskOptions } from '../../contract/tasks';
import { RequestError } from '../http';
import type { Workspace } from '../workspace';

/** What a task came to: one line for people, and data for later. */
export interface Outcome {
  readonly message: string;
  readonly result: unknown;
}

/** What a handler is given of the task it does the work of. */
export interface TaskAtWork<K extends TaskKind = TaskKind> {
  readonly jobId: string;
  readonly options: z.output<(typeof taskOptions)[K]>;
  readonly lane: Lane;
  /** What it, or a task that was asked for later, has finished is not done again. */
  readonly id: string;
  readonly report: Report;
  /** Keeps what it came to by now, for who looks meanwhile and for when it is stopped. */
  readonly keep: (result: unknown) => Promise<void>;
  /** Resolves once the job has no other work in hand, or this is stopped: for what can wait. */
  readonly atLeisure: () => Promise<void>;
  readonly signal: AbortSignal;
}

/**
 * A kind of task. Its handler knows nothing of the runner; it keeps what it finishes as it goes, and goes on from there when
 * it is called again with the same task: after a pause, a stop, a full disk or a restart.
 */
export interface Kind<K extends TaskKind> {
  /** `waited`: a person looks at an empty place until it is done. */
  lane(options: z.output<(typeof taskOptions)[K]>): Lane;
  run(task: TaskAtWork<K>): Promise<Outcome>;
  /** What a person hears when it is stopped: whether anything that was finished stays. */
  readonly keeps: 'what is finished' | 'nothing';
}

/** The cut that is proved, proxies standing in for what is away. Throws RequestError 409 where there is none. */
export function readyToProve({ provable }: Workspace) {
  if (!provable) throw new RequestError(409, 'There is no list yet.');
  return provable;
}

/** The cut that is worked from, with what can be read of it now. Throws RequestError 409 where there is none. */
export function readyToWork(w: Workspace) {
  if (!w.list || !w.conform) throw new RequestError(409, 'There is no list yet.');
  return { list: w.list, conform: w.conform, reachable: w.originals.filter((o) => o.here).map((o) => o.original) };
}
