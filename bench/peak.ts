import { readFileSync } from 'node:fs';
import { LIST_FORMATS, RATES } from '@gemello/core';

/** Prints how far the resident memory of this process rises while it reads one list, in bytes. Usage: peak.ts FORMAT FILE */
const [name, file = ''] = process.argv.slice(2);
const format = LIST_FORMATS.find((f) => f.name === name);
const bytes = readFileSync(file);
const before = process.resourceUsage().maxRSS;
const list = format?.read(bytes, { rate: RATES['24'] });
if (!list || list.tracks.length === 0) throw new Error(`${name} could not be read.`);
console.log((process.resourceUsage().maxRSS - before) * 1024);
