import { toast } from 'sonner';
import { create } from 'zustand';
import type { TaskKind, TaskView } from '../../contract';

interface Tasks {
  /** Tasks heard of since the page was opened, newest state each. */
  readonly byId: Record<string, TaskView>;
  hear(task: TaskView): void;
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
  review: 'Review',
  search: 'Search',
};

/** Progress of long work, as the server tells it. */
export const useTasks = create<Tasks>((set, get) => ({
  byId: {},
  hear(task) {
    const before = get().byId[task.id]?.state;
    set((s) => ({ byId: { ...s.byId, [task.id]: task } }));
    if (before === task.state) return;
    // Copies are made without being asked for, and nobody waits for them.
    if (task.state === 'done' && task.kind !== 'copies') toast(`${NAMES[task.kind]}: ${task.message}`);
    if (task.state === 'failed') toast.error(`${NAMES[task.kind]}: ${task.message}`, { duration: 12_000 });
  },
}));

export const isOpen = ({ state }: TaskView): boolean => state === 'waiting' || state === 'running' || state === 'paused';
/** True for a task that goes on after its last finished part when it is told to. */
export const mayGoOn = ({ state }: TaskView): boolean => state === 'paused' || state === 'stopped' || state === 'failed';
export const taskName = (task: TaskView): string => NAMES[task.kind];
