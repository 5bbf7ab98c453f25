import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { DEGRADATIONS, type Degradation } from './degrade';
import { type Outcome, stockOf, trial } from './lab';
import { GROUPS, takesOf } from './sources';

const folder = path.resolve('.data', 'faults');
const [movies, photographs] = [
  process.env.MOVIES ?? '/usr/share/doc/opencv-doc/examples/data',
  process.env.PHOTOGRAPHS ?? path.resolve('.venv', 'photographs'),
];
const hows = (process.argv[2]?.split(',') ?? DEGRADATIONS) as Degradation[];
const seeds = (process.argv[3] ?? '1').split(',').map(Number);
const events = Number(process.argv[4] ?? 60);
const verbose = process.argv.includes('-v');

mkdirSync(folder, { recursive: true });
const group = GROUPS.find((g) => process.argv.includes(`--${g}`)) ?? 'all';
const takes = takesOf(group, movies, photographs, folder);
const stock = await stockOf(takes, path.join(folder, 'originals'));
console.log(`${takes.length} clips, ${group}`);
const all: Outcome[] = [];
for (const how of hows)
  for (const seed of seeds) {
    const { outcomes, seconds, frames } = await trial(stock, how, events, seed, folder);
    all.push(...outcomes);
    const faults = outcomes.filter((o) => o.truth);
    console.log(
      `${how} ${seed}: ${faults.filter((o) => o.right).length} of ${faults.length} faults exact, ${outcomes.filter((o) => !o.truth && !o.right).length} of ${outcomes.length - faults.length} clean events with a finding, ${outcomes.filter((o) => o.cannotTell).length} cannot tell; ${frames} frames in ${seconds.toFixed(1)} s`,
    );
    if (verbose)
      for (const o of outcomes.filter((o) => !o.right || o.wrong.length > 0))
        console.log(
          `   ${o.proof.number} ${o.fault} (${o.source}) score ${o.proof.score} best ${o.proof.bestScore}@${o.proof.bestOffset}\n      truth ${JSON.stringify(o.truth)}\n      said  ${JSON.stringify(o.proof.findings)}`,
        );
  }
const kinds = [...new Set(all.map((o) => o.fault))].sort();
console.log('\nkind, exact of all, per degradation');
for (const kind of kinds)
  console.log(
    `${kind.padEnd(20)}${hows
      .map((how) => {
        const of = all.filter((o) => o.fault === kind && o.how === how);
        return `${how} ${of.filter((o) => o.right).length}/${of.length}`.padEnd(18);
      })
      .join('')}`,
  );
