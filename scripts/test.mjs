// npm test: installs what it needs, then checks, unit tests, the build and the browser. One closing line counts all.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { install, root } from './install.mjs';
import { installNeeds } from './needs.mjs';

const results = path.join(root, 'test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });
install();

const pictures = installNeeds();

const began = Date.now();
const failedSteps = [];
/** What steps that run beside each other say is kept apart, and told when they end. */
function step(name, command, args, alone = true) {
  const from = Date.now();
  if (alone) console.log(`\n== ${name}`);
  const said = [];
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: ['ignore', alone ? 'inherit' : 'pipe', alone ? 'inherit' : 'pipe'],
      env: { ...process.env, ...pictures, FORCE_COLOR: '0' },
    });
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (part) => said.push(part));
    child.on('close', (status) => {
      if (!alone) console.log(`\n== ${name}\n${Buffer.concat(said)}`);
      console.log(`== ${name}: ${status === 0 ? 'passed' : 'FAILED'} in ${((Date.now() - from) / 1000).toFixed(0)} s`);
      if (status !== 0) failedSteps.push(name);
      resolve(status === 0);
    });
  });
}

const ready = (
  await Promise.all([
    step('build', 'npm', ['run', '--silent', 'build'], false),
    step('demo footage', process.execPath, ['--import', 'tsx', path.join('scripts', 'footage.mjs')], false),
    step('check', 'npm', ['run', '--silent', 'check'], false),
  ])
)
  .slice(0, 2)
  .every(Boolean);
await step('unit', 'npx', [
  'vitest',
  'run',
  '--reporter=default',
  '--reporter=json',
  `--outputFile.json=${path.join(results, 'unit.json')}`,
]);
if (ready) await step('browser', 'npx', ['playwright', 'test', '--config', 'e2e/playwright.config.ts']);

const read = (name) => (existsSync(path.join(results, name)) ? JSON.parse(readFileSync(path.join(results, name), 'utf8')) : null);
const unit = read('unit.json');
const browser = read('e2e.json');
const passed = (unit?.numPassedTests ?? 0) + (browser?.stats.expected ?? 0);
const failed = (unit?.numFailedTests ?? 0) + (browser?.stats.unexpected ?? 0) + (browser?.stats.skipped ?? 0);
for (const told of [...failedSteps, ...failedUnits(unit), ...failedInBrowser(browser)]) console.log(`failed: ${told}`);
console.log(`\nin ${((Date.now() - began) / 1000).toFixed(0)} s`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failedSteps.length > 0 || failed > 0 || passed === 0 ? 1 : 0);

/** What failed, with the first lines of why: told last, so that it is not lost among what passed. */
function* failedUnits(report) {
  for (const file of report?.testResults ?? []) {
    const failures = file.assertionResults.filter((test) => test.status === 'failed');
    // A file that could not be read or set up fails without a test of it.
    if (failures.length === 0 && file.status === 'failed') yield told(path.relative(root, file.name), '', file.message);
    for (const test of failures) yield told(path.relative(root, file.name), test.fullName, test.failureMessages.join('\n'));
  }
}

function* failedInBrowser(report) {
  for (const suite of report?.suites ?? []) {
    yield* failedInBrowser(suite);
    for (const spec of suite.specs ?? [])
      if (!spec.ok)
        yield told(spec.file, spec.title, spec.tests.flatMap((test) => test.results.map((r) => r.error?.message ?? r.status)).join('\n'));
  }
}

function told(file, title, why = '') {
  return `${file}: ${title}\n${why.split('\n').slice(0, 8).join('\n')}`;
}
