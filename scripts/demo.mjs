// npm run demo: installs, builds, draws the demo's footage (once), serves it and prints the address.
import { spawn } from 'node:child_process';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { install, root, run } from './install.mjs';

const { values } = parseArgs({
  options: { port: { type: 'string', default: '4321' }, data: { type: 'string', default: path.join(root, '.data') } },
});
install();
run('npm', ['run', 'build', '--silent'], { stdio: ['ignore', 'ignore', 'inherit'] });

const { register } = await import('tsx/esm/api');
register();
const { generateDemo, seedDemo } = await import('../demo/src/index.ts');

let shown = -1;
const paths = await generateDemo(path.join(values.data, 'demo'), (done, total) => {
  const percent = Math.floor((100 * done) / total);
  if (percent === shown || (!process.stderr.isTTY && percent % 10 !== 0)) return;
  shown = percent;
  process.stderr.write(
    process.stderr.isTTY
      ? `\rDrawing the demo's footage ${percent} %${percent === 100 ? '\n' : ''}`
      : `Drawing the demo's footage ${percent} %\n`,
  );
});

const server = spawn(
  process.execPath,
  [path.join(root, 'scripts', 'serve.mjs'), '--port', values.port, '--data', path.join(values.data, 'desk')],
  { stdio: 'inherit' },
);
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));

const base = `http://127.0.0.1:${values.port}`;
for (let tries = 0; ; tries++) {
  const up = await fetch(`${base}/api/up`).then(
    (r) => r.ok,
    () => false,
  );
  if (up) break;
  if (tries > 120) {
    console.error(`The server did not come up on ${base}. Is the port taken? Try: npm run demo -- --port 4400`);
    server.kill();
    process.exit(1);
  }
  await new Promise((resolve) => setTimeout(resolve, 250));
}
const job = await seedDemo(base, paths);
console.log(
  `\nGemello is at ${base}\nThe demo job: ${base}/job/${job}/turnover\nIts files, to start a job of your own: ${paths.root}\nStop with Ctrl-C.`,
);
