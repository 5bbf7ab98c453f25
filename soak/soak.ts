import { random as numbers } from '../core/test/jobs';
import { ON_DRIVES } from './failing';
import { fallen, soundDatabase } from './laws';
import { oldFolder } from './old';
import { anyOf, ROUNDS, type Round } from './rounds';
import { makeWorld } from './world';

/** What was tried, how often it held, and what fell. */
export interface Tally {
  readonly tried: number;
  readonly held: number;
  readonly fell: readonly string[];
}

/** It says how far it is each time the server was killed so often again. */
const EACH_KILLS = 100;
/** Memory of the server may grow to so many times what it usually holds after a round. */
const GROWN = 2;

/** What is asked of a soak. */
export interface Asked {
  readonly seconds: number;
  /** It goes on until the server was killed so often. */
  readonly kills: number;
  /** A server that was killed is killed again at most so often before it is left alone. */
  readonly again: number;
  /** Whether each kind is tried once, however long it takes. */
  readonly each: boolean;
  readonly seed: number;
  /** It and the next one are used. */
  readonly port: number;
  /** Whether drives of our own can be had. */
  readonly mounts: boolean;
}

/** Of rounds in which the server is killed, where kills are asked for. */
const SHARE_OF_KILLS = 0.8;

/** Lets one thing after the other go wrong, each at random, the same for a seed, for as long as asked, and asks after each whether all laws hold. */
export async function soak(
  { seconds, kills, again, each, seed, port, mounts }: Asked,
  told: (line: string) => void,
): Promise<Map<string, Tally>> {
  const random = numbers(seed);
  const tallies = new Map<string, Tally>();
  const count = (name: string, fell: readonly string[]) => {
    const before = tallies.get(name) ?? { tried: 0, held: 0, fell: [] };
    tallies.set(name, { tried: before.tried + 1, held: before.held + (fell.length === 0 ? 1 : 0), fell: [...before.fell, ...fell] });
    for (const one of fell) told(`fell: ${name}: ${one}`);
  };
  const world = await makeWorld(port, mounts, again);
  try {
    const end = Date.now() + seconds * 1000;
    const { drives } = world;
    const onDrives = drives ? Object.entries(ON_DRIVES).map(([name, of]) => [name, of(drives)] as const) : [];
    const rounds: Readonly<Record<string, Round>> = {
      ...ROUNDS,
      'killed while it brings an old folder up to date': oldFolder,
      ...Object.fromEntries(onDrives),
    };
    const names = shuffled(Object.keys(rounds), random);
    const killing = names.filter((name) => name.startsWith('killed'));
    const held: number[] = [];
    let last = 0;
    const isOver = (number: number) => Date.now() > end && world.server.kills >= kills && (!each || number >= names.length);
    for (let number = 0; !isOver(number); number++) {
      // Each once; then as it comes.
      const name = names[number] ?? anyOf(random() < SHARE_OF_KILLS && kills > 0 ? killing : names, random);
      const round = rounds[name];
      if (!round) continue;
      const fell = await round(world, random, number);
      count(name, [...fell, ...(await fallen(world))]);
      held.push(world.server.memory());
      const { kills: now } = world.server;
      if (Math.floor(now / EACH_KILLS) > Math.floor(last / EACH_KILLS)) told(`Killed ${now} times so far.`);
      last = now;
    }
    const most = Math.max(...held);
    const usual = [...held].sort((a, b) => a - b)[held.length >> 1] as number;
    count('memory', most > GROWN * usual ? [`from ${usual} to ${most} bytes`] : []);
    await world.server.kill();
    count('the database at the end', await soundDatabase(world));
    told(`The server was killed ${world.server.kills} times.`);
  } finally {
    await world.end();
  }
  return tallies;
}

/** In an order that only chance knows (Fisher and Yates). */
function shuffled<T>(all: readonly T[], random: () => number): T[] {
  const some = [...all];
  for (let i = some.length - 1; i > 0; i--) {
    const k = Math.floor(random() * (i + 1));
    [some[i], some[k]] = [some[k] as T, some[i] as T];
  }
  return some;
}
