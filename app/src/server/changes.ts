/** What in a job changed, for those who watch it. `task` carries a progress; the others say what to ask for again. */
export type Change =
  | { readonly kind: 'job' | 'ledger' | 'originals' | 'activity' }
  | {
      readonly kind: 'task';
      readonly task: { id: string; kind: string; state: string; done: number; total: number; what: string; message: string };
    };

type Listener = (change: Change) => void;
const listeners = new Map<string, Set<Listener>>();

const BEGAN = Date.now();
const told = new Map<string, number>();
/** Where the telling of a job stands: who heard as much from this server has missed nothing, but progress of tasks. */
export const standOf = (jobId: string): string => `${BEGAN} ${told.get(jobId) ?? 0}`;
const isProgress = (change: Change): boolean => change.kind === 'task' && change.task.state === 'running';

/** Tells everyone who watches the job. */
export function announce(jobId: string, ...changes: Change[]): void {
  for (const change of changes) {
    if (!isProgress(change)) told.set(jobId, (told.get(jobId) ?? 0) + 1);
    for (const listener of listeners.get(jobId) ?? []) listener(change);
  }
}

/** Watches a job until the returned function is called. */
export function watch(jobId: string, listener: Listener): () => void {
  const all = listeners.get(jobId) ?? new Set();
  listeners.set(jobId, all.add(listener));
  return () => {
    all.delete(listener);
  };
}
