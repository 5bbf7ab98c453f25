import node from '@astrojs/node';
import react from '@astrojs/react';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'astro/config';

/** The server runs under tsx (scripts/serve.mjs), so that our own rooms stay TypeScript and keep their worker files. */
const outside = ['@gemello/core', '@gemello/media', '@libsql/client', 'node-av', 'piscina', 'sharp', 'pino'];

export default defineConfig({
  output: 'server',
  adapter: node({ mode: 'standalone' }),
  integrations: [react()],
  devToolbar: { enabled: false },
  server: { host: '127.0.0.1' },
  vite: {
    plugins: [tailwindcss()],
    ssr: { external: outside },
    build: { chunkSizeWarningLimit: 1500 },
  },
});
