import { random as numbers } from '../core/test/jobs';
import { fallen, soundDatabase } from './laws';
import { ROUNDS } from './rounds';
import { makeWorld } from './world';

/** What was tried, how often it held, and what fell. */
export interface Tally {
  readonly tried: number;
  readonly held: number;
  readonly fell: readonly string[];
}

/** Memory of the server may grow to so many times what it usually holds after a round. */
const GROWN = 2;

/**
 * Lets one thing after the other go wrong, each at random, the same for a seed, until the time is over and each was tried once, and
 * asks after each whether all laws hold. `port`: it and the next one are used.
 */
export async function soak(
  { seconds, seed, port }: { seconds: number; seed: number; port: number },
  told: (line: string) => void,
): Promise<Map<string, Tally>> {
  const random = numbers(seed);
  const tallies = new Map<string, Tally>();
  const count = (name: string, fell: readonly string[]) => {
    const before = tallies.get(name) ?? { tried: 0, held: 0, fell: [] };
    tallies.set(name, { tried: before.tried + 1, held: before.held + (fell.length === 0 ? 1 : 0), fell: [...before.fell, ...fell] });
    for (const one of fell) told(`${name}: ${one}`);
  };
  const world = await makeWorld(port);
  try {
    const end = Date.now() + seconds * 1000;
    const names = Object.keys(ROUNDS);
    const held: number[] = [];
    for (let number = 0; Date.now() < end || number < names.length; number++) {
      // Each once, in order; then as it comes.
      const name = names[number < names.length ? number : Math.floor(random() * names.length)] as string;
      const round = ROUNDS[name];
      if (!round) continue;
      const fell = await round(world, random, number);
      count(name, [...fell, ...(await fallen(world))]);
      held.push(world.server.memory());
    }
    const most = Math.max(...held);
    const usual = [...held].sort((a, b) => a - b)[held.length >> 1] as number;
    count('memory', most > GROWN * usual ? [`from ${usual} to ${most} bytes`] : []);
    await world.server.kill();
    count('the database at the end', await soundDatabase(world));
  } finally {
    await world.end();
  }
  return tallies;
}
