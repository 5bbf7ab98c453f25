// The command line as JavaScript: built when it is first called, and again when its sources changed; kept beside the packages.
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import vm from 'node:vm';
import { bundleMedia, COMMON } from '../../scripts/bundle.mjs';
import { stampOf } from '../../scripts/stamp.mjs';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..');
// Inside of `cli`, packages are found as its sources find them.
const kept = path.join(root, 'cli', 'node_modules', '.built');

/** What the command line is made of. */
const SOURCES = ['core/src', 'media/src', 'cli/src', 'cli/bin', 'scripts/bundle.mjs', 'package-lock.json'];

/** The media engine is loaded by the commands that need it, from a file of its own. */
const mediaApart = {
  name: 'media-apart',
  setup(build) {
    build.onResolve({ filter: /^@gemello\/media$/ }, () => ({ path: './media.mjs', external: true }));
  },
};

async function build(folder) {
  const { build } = await import('esbuild');
  mkdirSync(kept, { recursive: true });
  const made = mkdtempSync(path.join(kept, 'part-'));
  await bundleMedia(made, { media: 'index.ts', thread: 'thread.ts', look: 'look.ts' });
  await build({
    ...COMMON,
    entryPoints: [path.join(root, 'cli', 'src', 'main.ts')],
    outfile: path.join(made, 'main.cjs'),
    format: 'cjs',
    plugins: [...COMMON.plugins, mediaApart],
    banner: { js: '(function (exports, require, module, loadMedia) {' },
    footer: { js: '})' },
  });
  // What is compiled ahead cannot import by itself: it is handed a function that does.
  const main = path.join(made, 'main.cjs');
  const text = readFileSync(main, 'utf8');
  const own = text.replaceAll(/import\((['"])\.\/media\.mjs\1\)/g, 'loadMedia()');
  if (own === text) throw new Error('the command line no longer loads the media engine as it did');
  writeFileSync(main, own);
  try {
    renameSync(made, folder);
  } catch (error) {
    // Another call was first.
    rmSync(made, { recursive: true, force: true });
    if (!existsSync(folder)) throw error;
  }
  for (const old of readdirSync(kept))
    if (path.join(kept, old) !== folder && !old.startsWith('part-')) rmSync(path.join(kept, old), { recursive: true, force: true });
}

/** Keeps what the engine compiled, as it is after a run; the next one starts a third sooner. Not being able to is no fault. */
function keepCompiled(script, file) {
  try {
    writeFileSync(`${file}.${process.pid}`, script.createCachedData());
    renameSync(`${file}.${process.pid}`, file);
  } catch {}
}

/**
 * The main function as it was built, building it where that is needed, with `ended`, to be called after it. Null where it
 * cannot be built, such as where nothing may be written: then the sources are run as they are.
 */
export async function builtMain() {
  const folder = path.join(kept, stampOf(root, SOURCES));
  const file = path.join(folder, 'main.cjs');
  const compiled = path.join(folder, `main.${process.version}.cache`);
  try {
    if (!existsSync(file)) await build(folder);
  } catch {
    return null;
  }
  const cachedData = existsSync(compiled) ? readFileSync(compiled) : undefined;
  const script = new vm.Script(readFileSync(file, 'utf8'), { filename: file, cachedData });
  const module = { exports: {} };
  const loadMedia = () => import(pathToFileURL(path.join(folder, 'media.mjs')).href);
  script.runInThisContext()(module.exports, createRequire(file), module, loadMedia);
  const ended = () => {
    if (!cachedData || script.cachedDataRejected) keepCompiled(script, compiled);
  };
  return { main: module.exports.main, ended };
}
