#!/usr/bin/env node
import { builtMain } from './built.mjs';

const built = await builtMain();
if (!built) (await import('tsx/esm/api')).register();
const { main } = built ?? (await import('../src/main.ts'));
process.exitCode = await main(process.argv.slice(2), new URL('../..', import.meta.url));
built?.ended();
