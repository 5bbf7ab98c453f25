import { readFileSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { conform } from './conform';
import { crowd } from './crowd';
import { decode } from './decode';
import { lists } from './lists';
import type { Figure } from './measure';
import { pairing } from './pairing';
import { proof } from './proof';
import { returns } from './returns';
import { scanning } from './scan';
import { starts } from './starts';
import { table } from './table';
import { travel } from './travel';
import { scrubbing, viewer } from './viewer';
import { waits } from './waits';

/**
 * Prints figures and keeps the table in RESULTS.md. `npm run bench` runs all; `npm run bench lists` only
 * those named, and leaves the other rows as they were. A ratio above 1 means ours takes less time.
 */
const BENCHES = { conform, decode, scanning, lists, pairing, proof, table, travel, viewer, scrubbing, returns, waits, crowd, starts };
const results = fileURLToPath(new URL('./RESULTS.md', import.meta.url));
const asked = process.argv.slice(2);
const unknown = asked.find((name) => !(name in BENCHES));
if (unknown) throw new Error(`There is no bench ${unknown}; there are ${Object.keys(BENCHES).join(', ')}.`);

const rowOf = (f: Figure): string =>
  `| ${f.name} | ${f.ours.toFixed(3)} s | ${f.yardstickName} | ${f.yardstick.toFixed(3)} s | ${(f.yardstick / f.ours).toFixed(2)} | ${f.note} |`;

const sections: string[] = [];
const kept = readFileSync(results, 'utf8').split('\n### ');
for (const [name, bench] of Object.entries(BENCHES)) {
  const old = kept.find((section) => section.startsWith(`${name}\n`));
  if (asked.length > 0 && !asked.includes(name)) {
    if (old) sections.push(old.trimEnd());
    continue;
  }
  const figures = await bench();
  for (const f of figures) console.log(`${f.name}: ${(f.yardstick / f.ours).toFixed(2)} x ${f.yardstickName}  ${f.note}`);
  sections.push(`${name}\n\n| what | ours | yardstick | its time | ratio | |\n|---|---|---|---|---|---|\n${figures.map(rowOf).join('\n')}`);
}
const text = `# Figures

Made by \`npm run bench\` on ${availableParallelism()} cores, Node ${process.versions.node}. Medians; ours and the yardstick are run in turn.
The ratio is the yardstick's time over ours: above 1, ours takes less time.

### ${sections.join('\n\n### ')}
`;
writeFileSync(results, text);
