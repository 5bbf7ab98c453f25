import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { formatTimecode, RATES } from '@gemello/core';
import { writeClip } from '../media/test/footage';
import { type Drive, openDrive } from './drive';
import { type Server, serverAt } from './server';

/** Events of the cut, frames of each, and frames that its original has before and after. */
export const [EVENTS, LENGTH, AROUND] = [6, 48, 12];
const RATE = RATES['24'];
const START = 86_400;
const tc = (n: number) => formatTimecode(n, RATE);

/** Drives of our own that the cards and the server's own folder lie on. */
export interface Drives {
  readonly cards: Drive;
  readonly disk: Drive;
}

/** A job with originals, a cut and a reference, and what a person was told of it: that is what must be there after any fault. */
export interface World {
  readonly server: Server;
  /** Null where this process may not mount any. */
  readonly drives: Drives | null;
  /** How often at most a server that was killed is killed again before it is left alone. */
  readonly again: number;
  readonly folder: string;
  readonly data: string;
  readonly cards: string;
  readonly job: string;
  /** The events of the cut. */
  readonly events: readonly string[];
  /** Originals as they were before anything was done, by path: the sum of all of their bytes. */
  readonly originals: ReadonlyMap<string, string>;
  /** Notes whose decision was acknowledged. */
  readonly acknowledged: Set<string>;
  /** Names of returns that were begun. */
  readonly returns: Set<string>;
  end(): Promise<void>;
}

const sum = (file: string): string => createHash('sha256').update(readFileSync(file)).digest('hex');

/** What the cards hold now, by path. */
export const sumsOf = (cards: string): Map<string, string> =>
  new Map(
    readdirSync(cards)
      .sort()
      .map((name) => [path.join(cards, name), sum(path.join(cards, name))]),
  );

/** Makes the files, starts the server, and takes all in; `mounts`: on drives of our own. Throws where a step is refused. */
export async function makeWorld(port: number, mounts: boolean, again = 0): Promise<World> {
  const folder = mkdtempSync(path.join(tmpdir(), 'gemello-soak-'));
  const [data, cards] = [path.join(folder, 'desk'), path.join(folder, 'cards')];
  const onto = (at: string) => openDrive(`${at}-behind`, at);
  const drives = mounts ? { cards: await onto(cards), disk: await onto(data) } : null;
  const lines: string[] = [];
  for (let i = 0; i < EVENTS; i++) {
    const reel = `A${String(i + 1).padStart(3, '0')}`;
    const clip = { writer: 'intra-8bit', rate: RATE, reel, start: '01:00:00:00', frames: LENGTH + 2 * AROUND } as const;
    writeClip(path.join(cards, `${reel}C001.mov`), clip, i * 200);
    const source = `${tc(START + AROUND)} ${tc(START + AROUND + LENGTH)}`;
    lines.push(`${String(i + 1).padStart(3, '0')}  ${reel}  V  C  ${source} ${tc(START + i * LENGTH)} ${tc(START + (i + 1) * LENGTH)}`);
  }
  const reference = path.join(folder, 'reference.mov');
  writeClip(reference, { writer: 'intra-8bit', rate: RATE, reel: '', start: '01:00:00:00', frames: EVENTS * LENGTH });
  const server = serverAt(port, data);
  await server.start();
  const must = async (method: string, address: string, body?: unknown) => {
    const answer = await server.ask(method, address, body);
    if (answer?.status !== 200) throw new Error(`${method} ${address}: ${JSON.stringify(answer)}`);
    return answer.said;
  };
  const { id: job } = await must('POST', '/api/jobs', { title: 'Soak' });
  const { list } = await must('PUT', `/api/jobs/${job}/lists?name=cut.edl`, Buffer.from(`TITLE: SOAK\n${lines.join('\n')}\n`));
  await must('POST', `/api/jobs/${job}/lists/${list}`, { reading: { rate: '24' }, as: 'cut' });
  await must('POST', `/api/jobs/${job}/volumes`, { path: cards });
  await must('POST', `/api/jobs/${job}/reference`, { path: reference });
  await untilIdle(server, job);
  const { rows } = await must('GET', `/api/jobs/${job}/ledger?as=rows`);
  type Row = { id: string; chosen: { path: string; sourceStartFrame: number } };
  const decisions = (rows as Row[]).map((r) => ({
    kind: 'pair',
    event: r.id,
    original: r.chosen.path,
    sourceStartFrame: r.chosen.sourceStartFrame,
  }));
  await must('POST', `/api/jobs/${job}/decisions`, { decisions });
  return {
    ...{ server, drives, again, folder, data, cards, job },
    events: (rows as Row[]).map((r) => r.id),
    originals: sumsOf(cards),
    acknowledged: new Set(),
    returns: new Set(),
    async end() {
      await server.kill();
      drives?.cards.close();
      drives?.disk.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** How long work may take that was going on when the server went down, in milliseconds; on a machine that does other work beside. */
const LONGEST = 300_000;

/** Waits until no task is left; false where that takes too long. */
export async function untilIdle(server: Server, job: string): Promise<boolean> {
  for (const from = Date.now(); Date.now() - from < LONGEST; ) {
    const answer = await server.ask('GET', `/api/jobs/${job}`);
    if (answer?.status === 200 && answer.said.tasks.length === 0) return true;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  return false;
}
