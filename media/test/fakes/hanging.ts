import { existsSync } from 'node:fs';
import look, { begins, type Look, type Seen } from '../../src/look';

/** A drive that hangs for a while at every path that says so, until it is awake: the thread is held as a system call would hold it. */
export default function hanging(asked: Look): Seen {
  begins(asked);
  const ms = /hangs-(\d+)/.exec(asked.path)?.[1];
  if (ms && !existsSync(`${asked.path}.awake`)) Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, Number(ms));
  return look(asked);
}
