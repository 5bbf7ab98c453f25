import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'astro/config';

const OUTSIDE = /^(@libsql\/client|node-av|piscina|sharp|pino)(\/|$)/;

/** Native code stays where it is installed. */
const keepOutside = {
  name: 'keep-outside',
  enforce: 'pre',
  resolveId(id, _importer, options) {
    return options?.ssr && OUTSIDE.test(id) ? { id, external: true } : null;
  },
};

export default defineConfig({
  output: 'server',
  // scripts/listen.mjs listens, and sends what the build made.
  adapter: node({ mode: 'middleware' }),
  integrations: [react()],
  // Where a request comes from is checked in src/middleware.ts, by the address that was really asked for.
  security: { checkOrigin: false },
  devToolbar: { enabled: false },
  vite: {
    plugins: [keepOutside, tailwindcss()],
    build: { chunkSizeWarningLimit: 1500 },
  },
});
