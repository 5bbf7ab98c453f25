import { existsSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import {
  type ColumnMapping,
  type EditList,
  FIELDS,
  LARGEST_LIST_TEXT,
  type ListOptions,
  type Original,
  parseRate,
  placeText,
  type Raster,
  type Rate,
  READY_RULES,
  readDelivery,
  rulesSchema,
  sizeText,
} from '@gemello/core';
import type { MediaThreads, Progress, ScanProblem } from '@gemello/media';
import type { Command } from 'commander';
import { UsageError } from './exit';

/** Reads `--rate`; throws UsageError when it is none. */
function rateOption(text: string): Rate {
  const rate = parseRate(text);
  if (!rate) throw new UsageError(`"${text}" is no frame rate; write it as 24000/1001, 23.976, 25 or 29.97df.`);
  return rate;
}

/** Reads `--raster`, such as 1920x1080; throws UsageError when it is none. */
export function rasterOption(text: string): Raster {
  const [, width, height] = /^(\d{2,5})[x×](\d{2,5})$/i.exec(text) ?? [];
  if (!width || !height) throw new UsageError(`"${text}" is no raster; write it as 1920x1080.`);
  return { width: Number(width), height: Number(height) };
}

/** Reads `--columns`, such as reel=Tape,sourceIn=In: which heading of a table holds which field. */
function columnsOption(text: string): ColumnMapping {
  const mapping: ColumnMapping = {};
  for (const part of text.split(',')) {
    const [field, ...heading] = part.split('=');
    const known = FIELDS.find((f) => f === field?.trim());
    if (!known || heading.length === 0)
      throw new UsageError(`--columns names fields and headings, as reel=Tape; the fields are ${FIELDS.join(', ')}.`);
    mapping[known] = heading.join('=').trim();
  }
  return mapping;
}

function sequenceOption(text: string): number {
  if (!/^[1-9]\d{0,5}$/.test(text)) throw new UsageError('--sequence is a number from 1, in the order in which the file holds them.');
  return Number(text) - 1;
}

/** The options of every command that reads a list: what not every list says of itself. */
export const readsList = (command: Command): Command =>
  command
    .option('--rate <rate>', 'frame rate of the list', rateOption)
    .option('--raster <size>', 'raster of the cut, as 1920x1080', rasterOption)
    .option('--sequence <number>', 'which of several cuts in the file, from 1', sequenceOption)
    .option('--columns <mapping>', 'which heading of a table holds which field, as reel=Tape,sourceIn=In', columnsOption);

/** Reads one cut from its files, several being its layers from the bottom up; throws UsageError with the reason when it cannot be. */
export function listFiles(files: readonly string[], options: ListOptions): EditList {
  const delivered = files.map((file) => {
    if (!existsSync(file) || !statSync(file).isFile()) throw new UsageError(`There is no file ${file}.`);
    if (statSync(file).size > LARGEST_LIST_TEXT)
      throw new UsageError(`${file} is larger than ${sizeText(LARGEST_LIST_TEXT)}; that is no edit list.`);
    return { fileName: path.basename(file), bytes: readFileSync(file) };
  });
  const { list } = readDelivery(delivered, options);
  const refused = list.notices.find((n) => n.code === 'unreadable');
  if (list.tracks.length === 0 && refused)
    throw new UsageError(`${refused.message}${refused.place === null ? '' : ` (${placeText(refused.place)})`}`);
  return list;
}

/** The options of every command that lays a list against originals. */
export const laidAgainstOriginals = (command: Command, list = '<list>'): Command =>
  laysBy(readsList(command.argument(list)).requiredOption('--originals <dir...>', 'folders of camera originals'));

/** The same of a command that may be given neither. */
export const laidOrNot = (command: Command, list: string): Command =>
  laysBy(readsList(command.argument(list)).option('--originals <dir...>', 'folders of camera originals'));

const laysBy = (command: Command): Command =>
  command
    .option('--rules <rules>', 'which criteria must hold: the name of a ready set, or JSON', rulesOption)
    .option('--json', 'one JSON document', false);

/** Reads `--rules`: the name of a ready set, or a JSON object with the fields of the rules schema. */
function rulesOption(text: string) {
  const ready = READY_RULES.find((set) => set.name.toLowerCase() === text.trim().toLowerCase());
  if (ready) return ready;
  try {
    return rulesSchema.parse(JSON.parse(text));
  } catch {
    const names = READY_RULES.map((set) => `"${set.name}"`).join(', ');
    throw new UsageError(`--rules is ${names}, or JSON such as {"name":"exact","need":"both"}; the README lists the fields.`);
  }
}

/** Checks that folders are there before long work begins. */
export function folders(names: readonly string[]): string[] {
  for (const name of names) if (!existsSync(name) || !statSync(name).isDirectory()) throw new UsageError(`There is no folder ${name}.`);
  return names.map((name) => path.resolve(name));
}

/** Opens the media threads for one piece of work and closes them whatever comes of it. Loaded only then: the media engine takes a moment. */
export async function withThreads(work: (pool: MediaThreads) => Promise<void>): Promise<void> {
  const { openThreads } = await import('@gemello/media');
  const pool = openThreads();
  try {
    await work(pool);
  } finally {
    await pool.close();
  }
}

/** Progress goes to stderr: in place on a terminal, every tenth part elsewhere. */
export function progressTo(stream: NodeJS.WriteStream, what: string): { report: (progress: Progress) => void } {
  let shown = -1;
  const report = ({ done, total }: Progress) => {
    const tenth = total > 0 ? Math.floor((done * 10) / total) : 0;
    if (stream.isTTY) stream.write(`\r${what} ${done}/${total}${done >= total ? '\n' : ''}`);
    else if (tenth !== shown) stream.write(`${what} ${done}/${total}\n`);
    shown = tenth;
  };
  return { report };
}

/** Everything found below folders, in path order, and what could not be read. */
export async function scanned(pool: MediaThreads, names: readonly string[]): Promise<{ originals: Original[]; problems: ScanProblem[] }> {
  const originals: Original[] = [];
  const { problems } = await pool.scan(
    { folders: folders(names) },
    (found) => originals.push(...found),
    progressTo(process.stderr, 'scan'),
  );
  const { fingerprinted } = await import('@gemello/media');
  return { originals: fingerprinted(originals.sort((a, b) => (a.path < b.path ? -1 : 1))), problems };
}

/** Prints the result: one JSON document, or the text. */
export function print(json: boolean, result: unknown, text: () => string): void {
  process.stdout.write(json ? `${JSON.stringify(result, null, 1)}\n` : `${text()}\n`);
}
