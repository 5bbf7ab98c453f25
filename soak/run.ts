import { parseArgs } from 'node:util';
import { soak } from './soak';

/** `npm run soak -- --minutes 10 --seed 1`: faults of every kind, one after the other, and a table of what held. Exit 1 where anything fell. */
const { values } = parseArgs({
  options: { minutes: { type: 'string', default: '10' }, seed: { type: 'string', default: String(Date.now() % 1e6) } },
});
const seed = Number(values.seed);
console.log(`Seed ${seed}, ${values.minutes} minutes.`);
const tallies = await soak({ seconds: Number(values.minutes) * 60, seed, port: 4380 }, (line) => console.log(`fell: ${line}`));
const rows = [...tallies].map(([name, { tried, held, fell }]) => [name, String(tried), String(held), String(fell.length)]);
const wide = Math.max(...rows.map(([name = '']) => name.length));
for (const [name = '', ...counts] of [['', 'tried', 'held', 'fell'], ...rows])
  console.log(name.padEnd(wide), ...counts.map((c) => c.padStart(6)));
process.exit([...tallies.values()].some(({ tried, held }) => held < tried) ? 1 : 0);
