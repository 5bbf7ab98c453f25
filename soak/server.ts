import { type ChildProcess, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));

export interface Answer {
  readonly status: number;
  // biome-ignore lint/suspicious/noExplicitAny: what comes back is looked at by what asked for it
  readonly said: any;
}

/** A server of its own on this machine, which may be killed at any moment. */
export interface Server {
  /** Starts it, and waits until it is up. `clock`: how far its clock is ahead of this machine's, in milliseconds. */
  start(clock?: number): Promise<void>;
  /** Starts it, and does not wait. */
  begin(clock?: number): void;
  /** How often it was killed so far. */
  readonly kills: number;
  /** As a power cut does it: nothing more is written. */
  kill(): Promise<void>;
  /** Null where the server went down before it had answered. */
  ask(method: string, address: string, body?: unknown): Promise<Answer | null>;
  /** What it holds of the memory, in bytes. */
  memory(): number;
  readonly base: string;
}

/** How often it is asked whether a server is up, and how long at most, in milliseconds. */
const [EACH, LONGEST] = [50, 180_000];

/** A module that sets the clock of a process. */
const clockAhead = (by: number): string =>
  `data:text/javascript,${encodeURIComponent(`const now = Date.now; Date.now = () => now() + ${by};`)}`;

/** A server on a port and a data folder; the process itself, without the script around it, so that a kill hits it and nothing else. */
export function serverAt(port: number, data: string): Server {
  const base = `http://127.0.0.1:${port}`;
  let running: ChildProcess | null = null;
  let kills = 0;
  const ask: Server['ask'] = async (method, address, body) => {
    try {
      const sent = body === undefined ? undefined : Buffer.isBuffer(body) ? new Uint8Array(body) : JSON.stringify(body);
      const answer = await fetch(base + address, { method, ...(sent && { body: sent, headers: { 'content-type': 'application/json' } }) });
      return { status: answer.status, said: await answer.json() };
    } catch {
      return null;
    }
  };
  return {
    base,
    ask,
    begin(clock = 0) {
      const env = { ...process.env, HOST: '127.0.0.1', PORT: String(port), GEMELLO_DATA: data, GEMELLO_ROOT: root, GEMELLO_LOG: 'silent' };
      const listen = path.join(root, 'scripts', 'listen.mjs');
      const how = ['--max-http-header-size=65536', '--import', clockAhead(clock)];
      running = spawn(process.execPath, [...how, listen], { env, cwd: root, stdio: 'ignore' });
    },
    async start(clock) {
      // One that answers already is another, whose work would be taken for that of this one.
      if (await ask('GET', '/api/up')) throw new Error(`Another server answers on port ${port}.`);
      this.begin(clock);
      for (let waited = 0; waited < LONGEST; waited += EACH) {
        if ((await ask('GET', '/api/up'))?.status === 200) return;
        if (running && running.exitCode !== null) throw new Error(`The server ended with ${running.exitCode} instead of starting.`);
        await new Promise((resolve) => setTimeout(resolve, EACH));
      }
      throw new Error('The server did not come up.');
    },
    get kills() {
      return kills;
    },
    kill() {
      const one = running;
      running = null;
      if (!one || one.exitCode !== null || one.signalCode !== null) return Promise.resolve();
      return new Promise((resolve) => {
        kills++;
        one.once('exit', () => resolve());
        one.kill('SIGKILL');
      });
    },
    memory() {
      const pages = Number(readFileSync(`/proc/${running?.pid}/statm`, 'utf8').split(' ')[1]);
      return pages * 4096;
    },
  };
}
