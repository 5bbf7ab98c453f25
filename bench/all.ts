import { writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { decode } from './decode';
import { lists } from './lists';
import type { Figure } from './measure';
import { scanning } from './scan';

/** Prints every figure and keeps the table in RESULTS.md. A ratio above 1 means ours takes less time. */
const figures: Figure[] = [];
for (const bench of [decode, scanning, lists]) {
  const found = await bench();
  figures.push(...found);
  for (const f of found) console.log(`${f.name}: ${(f.yardstick / f.ours).toFixed(2)} x ${f.yardstickName}  ${f.note}`);
}
const rows = figures.map(
  (f) =>
    `| ${f.name} | ${f.ours.toFixed(3)} s | ${f.yardstickName} | ${f.yardstick.toFixed(3)} s | ${(f.yardstick / f.ours).toFixed(2)} | ${f.note} |`,
);
const text = `# Figures

Made by \`npm run bench\` on ${availableParallelism()} cores, Node ${process.versions.node}. Medians; ours and the yardstick are run in turn.
The ratio is the yardstick's time over ours: above 1, ours takes less time.

| what | ours | yardstick | its time | ratio | |
|---|---|---|---|---|---|
${rows.join('\n')}
`;
writeFileSync(fileURLToPath(new URL('./RESULTS.md', import.meta.url)), text);
