import { toast } from 'sonner';
import { create } from 'zustand';
import type { TaskKind, TaskView } from '../../contract';

interface Since {
  readonly at: number;
  readonly done: number;
}

interface Tasks {
  /** Tasks heard of since the page was opened, newest state each. */
  readonly byId: Record<string, TaskView>;
  /** Where each running task stood when it was first heard of. */
  readonly since: Record<string, Since>;
  hear(task: TaskView): void;
  /** What became of the tasks that were open when nothing was heard for a while; `now` is all that the server knows of. */
  catchUp(now: readonly TaskView[]): void;
}

const NAMES: Record<TaskKind, string> = {
  scan: 'Scan',
  checksums: 'Checksums',
  proxies: 'Proxies',
  cuts: 'Cuts',
  rebuild: 'Rebuilding',
  compare: 'Pictures',
  copies: 'Viewing copies',
  proof: 'Proof',
  'proof-report': 'Report',
  return: 'Return',
  recognise: 'Clips by picture',
  review: 'Review',
  search: 'Search',
};

/** Progress of long work, as the server tells it. */
export const useTasks = create<Tasks>((set, get) => ({
  byId: {},
  since: {},
  hear(task) {
    const before = get().byId[task.id]?.state;
    set((s) => ({ byId: { ...s.byId, [task.id]: task } }));
    const { since } = get();
    // What it did before it waited says nothing of how fast it goes now.
    if (task.state !== 'running' || before !== 'running' || !since[task.id])
      set({ since: { ...since, [task.id]: { at: Date.now(), done: task.done } } });
    if (before === task.state) return;
    // Copies are made without being asked for, and nobody waits for them.
    if (task.state === 'done' && task.kind !== 'copies') toast(`${NAMES[task.kind]}: ${task.message}`);
    if (task.state === 'failed') toast.error(`${NAMES[task.kind]}: ${task.message}`, { duration: 12_000 });
  },
  catchUp(now) {
    const known = new Map(now.map((task) => [task.id, task]));
    const open = Object.values(get().byId).filter(isOpen);
    for (const { id } of open) {
      const task = known.get(id);
      if (task) get().hear(task);
    }
    set(({ byId }) => ({ byId: Object.fromEntries(Object.entries(byId).filter(([id, task]) => !isOpen(task) || known.has(id))) }));
  },
}));

export const isOpen = ({ state }: TaskView): boolean => state === 'waiting' || state === 'running' || state === 'paused';
/** True for a task that goes on after its last finished part when it is told to. */
export const mayGoOn = ({ state }: TaskView): boolean => state === 'paused' || state === 'stopped' || state === 'failed';
export const taskName = (task: TaskView): string => NAMES[task.kind];

/** How long a task must have been watched before it is told how long it will take, in milliseconds, and how much of it must have been done. */
const [WATCHED, DONE] = [4000, 0.02];

/** How long a running task will take as it went since it was first heard of, in words; empty where that cannot be told yet. */
export function timeLeft({ state, done, total }: TaskView, since: Since | undefined, now: number): string {
  if (state !== 'running' || !since || total <= 0 || done >= total) return '';
  const [passed, made] = [now - since.at, done - since.done];
  if (passed < WATCHED || made < total * DONE) return '';
  const minutes = ((total - done) * passed) / made / 60_000;
  if (minutes < 1) return 'less than a minute left';
  return minutes < 90 ? `about ${Math.round(minutes)} min left` : `about ${Math.round(minutes / 60)} h left`;
}
