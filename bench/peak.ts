import { readFileSync } from 'node:fs';
import { LIST_FORMATS, RATES } from '@gemello/core';

/**
 * Prints how far the resident memory of this process rises while it reads one list, in bytes. Usage: peak.ts FORMAT FILE
 * With `--held` it prints the seconds and what the process held before, and takes files of which nothing can be read too.
 */
const [name, file = '', held] = process.argv.slice(2);
const format = LIST_FORMATS.find((f) => f.name === name);
const bytes = readFileSync(file);
const before = process.resourceUsage().maxRSS;
const started = process.memoryUsage().heapUsed;
const began = performance.now();
const list = format?.read(bytes, { rate: RATES['24'] });
const seconds = (performance.now() - began) / 1000;
if (!list || (!held && list.tracks.length === 0)) throw new Error(`${name} could not be read.`);
const memory = (process.resourceUsage().maxRSS - before) * 1024;
console.log(held ? JSON.stringify({ seconds, started }) : memory);
