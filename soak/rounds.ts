import { readFileSync, renameSync, truncateSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { serverAt } from './server';
import { untilIdle, type World } from './world';

type Random = () => number;

/** One thing that goes wrong. Gives what fell by itself; the laws are asked after each. */
export type Round = (world: World, random: Random, number: number) => Promise<string[]>;

/** The server dies at most so long after something was begun, in milliseconds: as long as the longest of it takes. */
const SOON = 1200;
export const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Begins something, kills the server at a random moment of it, and starts it again. */
const killedIn =
  (begin: (world: World, random: Random, number: number) => Promise<unknown>): Round =>
  async (world, random, number) => {
    const begun = begin(world, random, number);
    await pause(random() * SOON);
    await world.server.kill();
    await begun;
    // What goes on by itself meets the same, or the server is down again before it is up.
    for (let more = Math.floor(random() * world.again); more >= 1; more--) {
      if (random() < 0.5) await world.server.start();
      else world.server.begin();
      await pause(random() * SOON);
      await world.server.kill();
    }
    await world.server.start();
    return [];
  };

const task = (options: (world: World, number: number) => Record<string, unknown>): Round =>
  killedIn((world, _, number) => world.server.ask('POST', `/api/jobs/${world.job}/tasks`, options(world, number)));

/** A person writes one note after the other; those that were acknowledged are remembered. */
export async function notes({ server, job, events, acknowledged }: World, random: Random, number: number): Promise<void> {
  for (let i = 0; i < 60; i++) {
    const text = `note ${number}.${i}`;
    const event = anyOf(events, random);
    const answer = await server.ask('POST', `/api/jobs/${job}/decisions`, {
      decisions: [{ kind: 'note', scope: { of: 'event', event }, text }],
    });
    if (answer === null) return;
    if (answer.status === 200) acknowledged.add(text);
  }
}

/** Two write at once, and none waits for the other. */
const twoAtOnce: Round = async (world, random, number) => {
  const before = Date.now();
  await Promise.all([notes(world, random, number), notes(world, random, number + 0.5)]);
  return Date.now() - before > 20_000 ? ['two who wrote at once waited for more than 20 s'] : [];
};

/** Whether the work that was begun ends while an original is not as it was. */
const ends = async ({ server, job }: World, file: string, kind: string): Promise<string[]> =>
  (await untilIdle(server, job)) ? [] : [`${kind} did not end while ${path.basename(file)} was not as it was`];

/** Any of some. */
export const anyOf = <T>(some: Iterable<T>, random: Random): T => {
  const all = [...some];
  return all[Math.floor(random() * all.length)] as T;
};

/** An original is taken away in the middle of a proof, and comes back. */
const vanishes: Round = async (world, random) => {
  const file = anyOf(world.originals.keys(), random);
  const begun = world.server.ask('POST', `/api/jobs/${world.job}/tasks`, { kind: 'proof', events: null });
  await pause(random() * 400);
  renameSync(file, `${file}.away`);
  await begun;
  const fell = await ends(world, file, 'proof');
  renameSync(`${file}.away`, file);
  return fell;
};

/** An original is cut off in the middle of a return, and is whole again. */
const cutOff: Round = async (world, random, number) => {
  const file = anyOf(world.originals.keys(), random);
  const whole = readFileSync(file);
  world.returns.add(`CUT${number}`);
  const begun = world.server.ask('POST', `/api/jobs/${world.job}/tasks`, {
    kind: 'return',
    handles: 4,
    title: `CUT${number}`,
    render: true,
  });
  await pause(random() * 400);
  truncateSync(file, Math.floor(whole.length * random()));
  await begun;
  const fell = await ends(world, file, 'return');
  writeFileSync(file, whole);
  return fell;
};

/** A second server on the same folder has to say no, and leave the first one alone. */
const second: Round = async (world) => {
  const other = serverAt(Number(new URL(world.server.base).port) + 1, world.data);
  try {
    await other.start();
    await other.kill();
    return ['a second server started on the same folder'];
  } catch (error) {
    return error instanceof Error && error.message.includes('ended with 2') ? [] : [`a second server: ${error}`];
  }
};

/** Somebody sends a large file, slowly, and the server goes down in the middle. */
const leavesUpload: Round = killedIn(({ server, job }) => {
  let over = false;
  const body = new ReadableStream({
    async pull(controller) {
      // It would be asked for more without end, though nobody takes it any longer.
      if (over) return controller.close();
      controller.enqueue(new Uint8Array(500_000).fill(7));
      await pause(SOON / 20);
    },
  });
  const sent: RequestInit & { duplex: 'half' } = { method: 'PUT', body, duplex: 'half' };
  return fetch(`${server.base}/api/jobs/${job}/reference?name=half.mov`, sent)
    .catch(() => null)
    .finally(() => {
      over = true;
    });
});

/** What one writes after the clock was set back is later than what was written before. */
const setBack: Round = async (world, random, number) => {
  const { server, job, events } = world;
  const HOURS = 3_600_000;
  const write = async (text: string) => {
    const scope = { of: 'event', event: anyOf(events, random) };
    await server.ask('POST', `/api/jobs/${job}/decisions`, { decisions: [{ kind: 'note', scope, text }] });
  };
  await write(`before ${number}`);
  await server.kill();
  await server.start(-2 * HOURS);
  await write(`after ${number}`);
  const said = JSON.stringify((await server.ask('GET', `/api/jobs/${job}/activity`))?.said ?? '');
  await server.kill();
  await server.start();
  const [after, before] = [said.indexOf(`after ${number}\\"`), said.indexOf(`before ${number}\\"`)];
  return after >= 0 && after < before ? [] : ['what was decided after the clock was set back is not the latest'];
};

/** Twenty look on while it proves, and each of them is answered. */
const lookedOn: Round = async ({ server, job, events }, random) => {
  await server.ask('POST', `/api/jobs/${job}/tasks`, { kind: 'proof', events: null });
  const one = async (): Promise<string[]> => {
    const fell: string[] = [];
    for (let i = 0; i < 10; i++) {
      const address = anyOf(
        [`/api/jobs/${job}`, `/api/jobs/${job}/ledger?as=rows`, `/api/jobs/${job}/ledger?event=${anyOf(events, random)}`],
        random,
      );
      const status = (await server.ask('GET', address))?.status;
      if (status !== 200) fell.push(`${address} was answered by ${status} while it proved`);
    }
    return fell;
  };
  return [...new Set((await Promise.all(Array.from({ length: 20 }, one))).flat())];
};

export const ROUNDS: Readonly<Record<string, Round>> = {
  'killed while it scans': task(() => ({ kind: 'scan', volumes: null })),
  'killed while it proves': task(() => ({ kind: 'proof', events: null })),
  'killed while it returns': task(({ returns }, number) => {
    returns.add(`BACK${number}`);
    return { kind: 'return', handles: 4, title: `BACK${number}`, render: true };
  }),
  'killed while it makes proxies': task(({ originals }) => ({
    kind: 'proxies',
    paths: [...originals.keys()],
    codec: 'proxy-small',
    size: 'half',
    burnIn: false,
  })),
  'killed while a person decides': killedIn(notes),
  'killed while a file is sent': leavesUpload,
  'two write at once': twoAtOnce,
  'an original vanishes from a proof': vanishes,
  'an original is cut off in a return': cutOff,
  'a second server on the folder': second,
  'the clock is set back': setBack,
  'twenty look on while it proves': lookedOn,
};
