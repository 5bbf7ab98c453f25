// Draws the demo's footage below .data/demo, unless it is there and current. Run with --import tsx.
import path from 'node:path';
import { generateDemo } from '../demo/src/index.ts';
import { root } from './install.mjs';

let shown = -1;
await generateDemo(path.join(root, '.data', 'demo'), (done, total) => {
  const percent = Math.floor((10 * done) / total) * 10;
  if (percent !== shown) console.error(`Drawing the demo's footage ${percent} %`);
  shown = percent;
});
