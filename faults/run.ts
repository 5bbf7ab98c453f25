import { openThreads } from '@gemello/media';
import { asked, FOLDER, stockOfGroup } from './asked';
import { type Outcome, trial } from './lab';

/** The proof against known faults: `tsx faults/run.ts STATES SEEDS EVENTS`. */
const { hows, seeds, count, group, verbose } = asked();
const stock = await stockOfGroup(group);
console.log(`${stock.takes.length} clips, ${group}`);
const threads = openThreads();
const all: Outcome[] = [];
for (const how of hows)
  for (const seed of seeds) {
    const { outcomes, seconds, frames } = await trial(threads, stock, how, count, seed, FOLDER);
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
await threads.close();
