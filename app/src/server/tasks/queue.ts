import type { Lane } from '@gemello/media';

/** Why a piece of work is taken out: it is to end, or to go on some other time. */
export type TakenOut = 'stop' | 'pause';

/** A piece of work that waits for its turn, by its id. What it is, whoever does it knows. */
export interface Entry {
  readonly id: string;
  readonly lane: Lane;
  /** Of the entries that name the same thing here, one runs at a time: they would write to the same place. */
  readonly alone: string;
}

/**
 * Does the work of an entry. It never rejects: what comes of it, faults included, is its own to keep. When it is taken out
 * the signal is aborted with the reason.
 */
export type Work = (id: string, signal: AbortSignal) => Promise<void>;

/**
 * Where pieces of work wait for their turn (what it must keep to: queue.contract.ts). Those of a lane begin in the order in
 * which they came, as far as `alone` lets them; the lanes do not wait for each other. The one below lives in this process;
 * one that is kept elsewhere may hand the same work to several machines.
 */
export interface Queue {
  /** Puts an entry in line; one that is there already stays where it is. */
  add(entry: Entry): void;
  /** Takes an entry out: one that waits is never begun, one that runs is told. `unknown` when it is in no line. */
  take(id: string, why: TakenOut): Promise<'waited' | 'running' | 'unknown'>;
  /** Resolves once nothing waits and nothing runs. */
  idle(): Promise<void>;
}

interface Running extends Entry {
  readonly stop: AbortController;
}

/** A queue within this process; `slots`: how many entries of each lane run at once. */
export function openQueue(work: Work, slots: Readonly<Record<Lane, number>>): Queue {
  const waiting: Entry[] = [];
  const running = new Map<string, Running>();
  let resting: (() => void)[] = [];

  const mayBegin = (entry: Entry): boolean => {
    const now = [...running.values()];
    return now.filter((r) => r.lane === entry.lane).length < slots[entry.lane] && now.every((r) => r.alone !== entry.alone);
  };
  const beginNext = () => {
    for (;;) {
      const at = waiting.findIndex(mayBegin);
      if (at < 0) break;
      const [entry] = waiting.splice(at, 1) as [Entry];
      const stop = new AbortController();
      running.set(entry.id, { ...entry, stop });
      void work(entry.id, stop.signal).finally(() => {
        running.delete(entry.id);
        beginNext();
      });
    }
    if (waiting.length > 0 || running.size > 0) return;
    for (const rest of resting) rest();
    resting = [];
  };
  return {
    add(entry) {
      if (running.has(entry.id) || waiting.some((w) => w.id === entry.id)) return;
      waiting.push(entry);
      queueMicrotask(beginNext);
    },
    async take(id, why) {
      const at = waiting.findIndex((w) => w.id === id);
      if (at >= 0) {
        waiting.splice(at, 1);
        queueMicrotask(beginNext);
        return 'waited';
      }
      const now = running.get(id);
      now?.stop.abort(why);
      return now ? 'running' : 'unknown';
    },
    idle: () => new Promise((resolve) => (waiting.length + running.size === 0 ? resolve() : resting.push(resolve))),
  };
}
