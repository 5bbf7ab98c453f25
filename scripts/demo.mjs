// npm run demo: installs, builds (what changed), draws the demo's footage (once), serves it and prints the address.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { buildApp } from './build.mjs';
import { install, root } from './install.mjs';

const { values } = parseArgs({
  options: { port: { type: 'string', default: '4321' }, data: { type: 'string', default: path.join(root, '.data') } },
});
install();
await buildApp();

const server = spawn(
  process.execPath,
  [path.join(root, 'scripts', 'serve.mjs'), '--port', values.port, '--data', path.join(values.data, 'desk')],
  { stdio: 'inherit' },
);
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));

const { register } = await import('tsx/esm/api');
register();
// What draws is loaded only where something is to be drawn: it takes a moment.
const { demoPaths, isCurrent } = await import('../demo/src/place.ts');
const { seedDemo } = await import('../demo/src/seed.ts');

const place = path.join(values.data, 'demo');
let shown = -1;
const drawn = (done, total) => {
  const percent = Math.floor((100 * done) / total);
  if (percent === shown || (!process.stderr.isTTY && percent % 10 !== 0)) return;
  shown = percent;
  process.stderr.write(
    process.stderr.isTTY
      ? `\rDrawing the demo's footage ${percent} %${percent === 100 ? '\n' : ''}`
      : `Drawing the demo's footage ${percent} %\n`,
  );
};
const paths = isCurrent(place) ? demoPaths(place) : await (await import('../demo/src/index.ts')).generateDemo(place, drawn);

const base = `http://127.0.0.1:${values.port}`;
for (let tries = 0; ; tries++) {
  const up = await fetch(`${base}/api/up`).then(
    (r) => r.ok,
    () => false,
  );
  if (up) break;
  if (tries > 600) {
    console.error(`The server did not come up on ${base}. Is the port taken? Try: npm run demo -- --port 4400`);
    server.kill();
    process.exit(1);
  }
  await new Promise((resolve) => setTimeout(resolve, 50));
}
const job = await seedDemo(base, paths);
console.log(
  `\nGemello is at ${base}\nThe demo job: ${base}/job/${job}/turnover\nIts files, to start a job of your own: ${paths.root}\nStop with Ctrl-C.`,
);
