import { setTimeout as sleep } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import pLimit from 'p-limit';
import { Piscina } from 'piscina';
import type { Look, Seen } from './look';
import { loader, threadFrom } from './threads';

/** The place that was asked about did not answer in time: a network that hangs, a drive that is asleep or dying. */
export class NotAnswering extends Error {
  override readonly name = 'NotAnswering';
  constructor(readonly path: string) {
    super(`${path} does not answer. Is its drive asleep, or its network gone?`);
  }
}

/** What stands at a path: links resolved. */
export type Place = Extract<Seen, { readonly kind: string }>;

/** Looks at volumes from threads of their own: a drive that hangs holds up a thread and nobody else. */
export interface Drives {
  /** What stands at a path; null when nothing does. Rejects with NotAnswering. */
  at(path: string): Promise<Place | null>;
  /** The folders in a folder, by path, those that begin with a dot left out; null when it may not be opened. Rejects with NotAnswering. */
  foldersIn(path: string): Promise<string[] | null>;
  /** A file of at most `limit` bytes; null when it is larger, or cannot be read. Rejects with NotAnswering. */
  bytesOf(path: string, limit: number): Promise<Uint8Array | null>;
  /** The same as text, UTF-8. */
  textOf(path: string, limit: number): Promise<string | null>;
  close(): Promise<void>;
}

/** An answer is waited for this long, in milliseconds: longer than a busy machine takes, shorter than a person waits. */
const PATIENCE = 3000;
/** A thread may take so long to start on a busy machine, and be waited for while others hang, in milliseconds. */
const START = 30_000;
/** And so long for answers that have come and were not read yet. */
const GRACE = 50;
/** So many are looked at at once, since a thread more takes longer to start than most looks take; one that takes so long, in milliseconds, holds up no other. */
const [AT_ONCE, SLOW] = [2, 100];
/** So many paths may hang at once before others are taken to hang as well. */
const MOST_HANGING = 16;

/** Opens the threads; `drive` and `patience` are for tests, the one a file that answers in place of drives. */
export function openDrives(drive: URL | null = null, patience = PATIENCE): Drives {
  const pool = new Piscina({
    ...(drive ? { filename: fileURLToPath(drive), execArgv: loader() } : threadFrom('look')),
    minThreads: AT_ONCE,
    maxThreads: MOST_HANGING,
    idleTimeout: 30_000,
  });
  /** A thread takes a moment to start, which is not the drive's fault. */
  const ready = pool.run({ look: 'nothing', path: '' } satisfies Look);
  const hanging = new Set<string>();
  const hangs = (path: string) => [...hanging].some((h) => path === h || path.startsWith(`${h}/`));

  const turns = pLimit(AT_ONCE);
  const inTurn = (look: Look): Promise<Seen> =>
    new Promise((resolve, reject) => {
      turns(async () => {
        const seen: Promise<Seen> = pool.run(look);
        seen.then(resolve, reject);
        await Promise.race([seen, sleep(SLOW, undefined, { ref: false })]);
      }).catch(reject);
    });

  /** What was asked and no thread has taken up yet: it serves everyone who asks the same meanwhile, since it will be looked at after that. */
  const waiting = new Map<string, { readonly begun: Float64Array; readonly seen: Promise<Seen> }>();
  const ask = (look: Look): Promise<Seen> => {
    const name = JSON.stringify(look);
    const same = waiting.get(name);
    if (same?.begun[0] === 0) return same.seen;
    const begun = new Float64Array(new SharedArrayBuffer(8));
    const asked = { begun, seen: lookAt(look, begun) };
    waiting.set(name, asked);
    const done = () => waiting.get(name) === asked && waiting.delete(name);
    asked.seen.then(done, done);
    return asked.seen;
  };
  const lookAt = async (look: Look, begun: Float64Array<SharedArrayBuffer>): Promise<Seen> => {
    await ready;
    if (hangs(look.path)) throw new NotAnswering(look.path);
    const answer = inTurn({ ...look, begun: begun.buffer });
    const asked = performance.now();
    let late: NodeJS.Timeout | undefined;
    let answered = false;
    const done = () => {
      answered = true;
      hanging.delete(look.path);
    };
    answer.then(done, done);
    const patient = new Promise<never>((_, reject) => {
      const giveUp = () => {
        if (answered) return;
        // What nobody has looked at yet is no fault of the drive: it gets its time from when a thread took it up.
        const [since = 0] = begun;
        const left = since === 0 ? (performance.now() - asked < START ? patience : 0) : patience - (Date.now() - since);
        if (left > 0) {
          wait(left);
          return;
        }
        // It is not asked again before it has answered, so that no more than one thread hangs on it.
        hanging.add(look.path);
        reject(new NotAnswering(look.path));
      };
      // Where this thread itself was busy, the answer may lie here unread: it is taken in before anything is said.
      const wait = (time: number) => {
        late = setTimeout(() => setTimeout(() => setImmediate(giveUp), GRACE), time);
      };
      wait(patience);
    });
    try {
      return await Promise.race([answer, patient]);
    } finally {
      clearTimeout(late);
    }
  };
  return {
    async at(path) {
      const seen = await ask({ look: 'at', path });
      return seen !== null && typeof seen === 'object' && 'kind' in seen ? seen : null;
    },
    foldersIn: async (path) => (await ask({ look: 'folders', path })) as string[] | null,
    bytesOf: async (path, limit) => (await ask({ look: 'bytes', path, limit })) as Uint8Array | null,
    async textOf(path, limit) {
      const bytes = (await ask({ look: 'bytes', path, limit })) as Uint8Array | null;
      return bytes && new TextDecoder().decode(bytes);
    },
    close: async () => {
      await ready;
      await pool.destroy();
    },
  };
}
