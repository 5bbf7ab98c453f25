// The media room as JavaScript, which starts four times as fast as from TypeScript.
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const sources = path.join(path.dirname(path.dirname(fileURLToPath(import.meta.url))), 'media', 'src');

/** Messages of the schema library in other languages than English are said nowhere. */
const englishOnly = {
  name: 'english-only',
  setup(build) {
    build.onResolve({ filter: /locales\/index\.js$/ }, ({ importer }) =>
      /[\\/]zod[\\/]/.test(importer) ? { path: 'none', namespace: 'empty' } : undefined,
    );
    build.onLoad({ filter: /.*/, namespace: 'empty' }, () => ({ contents: 'export {};' }));
  },
};

/** What is common to all that is made of our rooms for Node. */
export const COMMON = {
  ...{ bundle: true, minify: true, platform: 'node', target: 'node20', logLevel: 'error', plugins: [englishOnly] },
  // Native code and files beside it are left where they are.
  external: ['node-av', 'sharp', '@napi-rs/canvas', 'piscina', 'tsx'],
};

/** Makes files of the media room in a folder, each under its name there; what they share stands beside them. */
export async function bundleMedia(folder, files) {
  const { build } = await import('esbuild');
  await build({
    ...COMMON,
    entryPoints: Object.fromEntries(Object.entries(files).map(([name, file]) => [name, path.join(sources, file)])),
    outdir: folder,
    outExtension: { '.js': '.mjs' },
    splitting: true,
    format: 'esm',
    banner: { js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);" },
  });
}
