import { spawnSync } from 'node:child_process';
import { parseArgs } from 'node:util';
import { soak } from './soak';

/**
 * `npm run soak -- --minutes 10 --kills 0 --again 4 --seed 1`: faults of every kind, one after the other, as long and until the server was
 * killed as often as said, and a table of what held; `--slice`: not of every kind if that takes longer. Exit 1 where anything fell.
 */
const { values } = parseArgs({
  options: {
    minutes: { type: 'string', default: '10' },
    kills: { type: 'string', default: '0' },
    again: { type: 'string', default: '4' },
    slice: { type: 'boolean', default: false },
    seed: { type: 'string', default: String(Date.now() % 1e6) },
    port: { type: 'string', default: '4380' },
  },
});

/** Mounts that only this process and its children see, and that end with them; null where that is not allowed here. */
const OWN = [['-m'], ['-r', '-m']].find((how) => spawnSync('unshare', [...how, 'true'], { stdio: 'ignore' }).status === 0) ?? null;
if (OWN && !process.env.GEMELLO_OWN_MOUNTS) {
  const again = [...OWN, process.execPath, ...process.execArgv, ...process.argv.slice(1)];
  const { status } = spawnSync('unshare', again, { stdio: 'inherit', env: { ...process.env, GEMELLO_OWN_MOUNTS: 'yes' } });
  process.exit(status ?? 1);
}

const [seed, kills] = [Number(values.seed), Number(values.kills)];
console.log(`Seed ${seed}, ${values.minutes} minutes${kills > 0 ? `, ${kills} kills` : ''}.`);
if (!OWN) console.log('Drives that fail are not tried: this system lets nobody mount one (unshare -m).');
const asked = {
  ...{ seconds: Number(values.minutes) * 60, kills, again: Number(values.again), each: !values.slice },
  ...{ seed, port: Number(values.port), mounts: OWN !== null },
};
const tallies = await soak(asked, (line) => console.log(line));
const rows = [...tallies].map(([name, { tried, held, fell }]) => [name, String(tried), String(held), String(fell.length)]);
const wide = Math.max(...rows.map(([name = '']) => name.length));
for (const [name = '', ...counts] of [['', 'tried', 'held', 'fell'], ...rows])
  console.log(name.padEnd(wide), ...counts.map((c) => c.padStart(6)));
process.exit([...tallies.values()].some(({ tried, held }) => held < tried) ? 1 : 0);
