import { existsSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { decodeListText, type EditList, LIST_FORMATS, type Original, parseRate, type Rate, readList, rulesSchema } from '@gemello/core';
import { type MediaThreads, openThreads, type Progress } from '@gemello/media';
import type { Command } from 'commander';
import { UsageError } from './exit';

/** Lists above this size are refused, in bytes; 50 000 events take about 15 MB. */
const LARGEST_LIST = 64 * 1024 * 1024;

/** Reads `--rate`; throws UsageError when it is none. */
export function rateOption(text: string): Rate {
  const rate = parseRate(text);
  if (!rate) throw new UsageError(`"${text}" is no frame rate; write it as 24000/1001, 23.976, 25 or 29.97df.`);
  return rate;
}

/** Reads a list of any known format; throws UsageError with the reason when it cannot be. */
export function listFile(file: string, rate?: Rate): EditList {
  if (!existsSync(file) || !statSync(file).isFile()) throw new UsageError(`There is no file ${file}.`);
  if (statSync(file).size > LARGEST_LIST) throw new UsageError(`${file} is larger than 64 MB; that is no edit list.`);
  const list = readList(decodeListText(readFileSync(file)), { rate });
  if (!list)
    throw new UsageError(`${path.basename(file)} is not a list Gemello knows; it reads ${LIST_FORMATS.map((f) => f.title).join(', ')}.`);
  return list;
}

/** The options of every command that lays a list against originals. */
export const laidAgainstOriginals = (command: Command): Command =>
  command
    .argument('<list>')
    .requiredOption('--originals <dir...>', 'folders of camera originals')
    .option('--rate <rate>', 'frame rate of the list', rateOption)
    .option('--rules <json>', 'which criteria must hold', rulesOption)
    .option('--json', 'one JSON document', false);

/** Reads `--rules`, a JSON object with the fields of the rules schema. */
function rulesOption(text: string) {
  try {
    return rulesSchema.parse(JSON.parse(text));
  } catch {
    throw new UsageError('--rules must be JSON such as {"name":"exact","need":"both"}; the README lists the fields.');
  }
}

/** Checks that folders are there before long work begins. */
export function folders(names: readonly string[]): string[] {
  for (const name of names) if (!existsSync(name) || !statSync(name).isDirectory()) throw new UsageError(`There is no folder ${name}.`);
  return names.map((name) => path.resolve(name));
}

/** Opens the media threads for one piece of work and closes them whatever comes of it. */
export async function withThreads(work: (pool: MediaThreads) => Promise<void>): Promise<void> {
  const pool = openThreads();
  try {
    await work(pool);
  } finally {
    await pool.close();
  }
}

/** Progress goes to stderr: in place on a terminal, every tenth part elsewhere. */
export function progressTo(stream: NodeJS.WriteStream, what: string): (progress: Progress) => void {
  let shown = -1;
  return ({ done, total }) => {
    const tenth = total > 0 ? Math.floor((done * 10) / total) : 0;
    if (stream.isTTY) stream.write(`\r${what} ${done}/${total}${done >= total ? '\n' : ''}`);
    else if (tenth !== shown) stream.write(`${what} ${done}/${total}\n`);
    shown = tenth;
  };
}

/** Scans folders for originals; unreadable files are named on stderr. */
export async function originalsIn(pool: MediaThreads, names: readonly string[]): Promise<Original[]> {
  const { originals, problems } = await pool.scan({ folders: folders(names) }, progressTo(process.stderr, 'scan'));
  for (const p of problems) process.stderr.write(`${p.path}: ${p.message}\n`);
  return originals;
}

/** Prints the result: one JSON document, or the text. */
export function print(json: boolean, result: unknown, text: () => string): void {
  process.stdout.write(json ? `${JSON.stringify(result, null, 1)}\n` : `${text()}\n`);
}
