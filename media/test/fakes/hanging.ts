import { existsSync } from 'node:fs';
import look, { begins, type Look, type Seen } from '../../src/look';

const LONGEST_MS = 20_000;
const STEP_MS = 10;

/** A drive that hangs at every path that says so, until it is woken: the thread is held as a system call would hold it. */
export default function hanging(asked: Look): Seen {
  begins(asked);
  const held = new Int32Array(new SharedArrayBuffer(4));
  if (/hangs/.test(asked.path))
    for (let ms = 0; ms < LONGEST_MS && !existsSync(`${asked.path}.awake`); ms += STEP_MS) Atomics.wait(held, 0, 0, STEP_MS);
  return look(asked);
}
