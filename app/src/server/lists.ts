import { randomUUID } from 'node:crypto';
import path from 'node:path';
import {
  carryDecisions,
  type Delivery,
  decodeListFile,
  formatRate,
  gradeDecisions,
  inLayerOrder,
  LIST_FORMATS,
  type ListOptions,
  layBeside,
  lineOf,
  parseRate,
  readCdlFile,
  recogniseList,
  sameSpeed,
  type Written,
  writeList,
} from '@gemello/core';
import { and, desc, eq, max } from 'drizzle-orm';
import type { z } from 'zod';
import { LARGEST_LIST } from '../contract';
import type { ListEntry, Reading, takeSchema, Writing } from '../contract/lists';
import { database, write } from './db/open';
import { listFiles, lists } from './db/schema';
import { next } from './db/sequence';
import { answered, drives } from './drives';
import { RequestError } from './http';
import { decide, decided } from './jobs';
import { mediaThreads } from './media';
import { type ListRow, readListRow } from './readings';
import { allowedAt } from './roots';
import { workspace } from './workspace';

/**
 * Takes a delivered file in hand: a list to be looked at, the next file of one that arrived together,
 * or a file of grades, which go to the events they name. Nothing is refused here: a list that cannot
 * be read is kept until it was looked at.
 */
export async function receive(jobId: string, name: string, bytes: Uint8Array, sets: readonly string[]): Promise<{ list: string } | Graded> {
  await workspace(jobId);
  const fileName = nameAlone(name);
  const text = decodeListFile(bytes);
  if ('text' in text && /<ColorCorrection[\s>]/.test(text.text) && !/<xmeml[\s>]/.test(text.text))
    return takeGrades(jobId, fileName, text.text);
  const set = await layersOf(jobId, sets, bytes);
  const id = set ?? randomUUID();
  await write(async (tx) => {
    if (!set)
      await tx.insert(lists).values({ id, jobId, state: 'arrived', options: {}, createdAt: Date.now(), sequence: next(lists.sequence) });
    const [last] = await tx
      .select({ place: max(listFiles.place) })
      .from(listFiles)
      .where(eq(listFiles.listId, id));
    await tx.insert(listFiles).values({ listId: id, place: (last?.place ?? -1) + 1, fileName, bytes: Buffer.from(bytes) });
  });
  if (set) await inOrder(id);
  decided(jobId);
  return { list: id };
}

/** The name of a file without folders, as whichever system writes them, and without what is not seen. */
const nameAlone = (name: string): string => (name.split(/[\\/]/).pop() ?? '').replace(/[\p{Cc}\p{Cf}]+/gu, '').trim() || 'list';

/**
 * Which of the lists that arrived together a file is a further layer of: one whose files have its format, which holds one
 * layer a file. Two exports of one cut in two formats are two lists. Null for none.
 */
async function layersOf(jobId: string, sets: readonly string[], bytes: Uint8Array): Promise<string | null> {
  const format = recogniseList(bytes);
  for (const set of sets) {
    await arrived(jobId, set);
    const [first] = await (await database())
      .select({ bytes: listFiles.bytes })
      .from(listFiles)
      .where(and(eq(listFiles.listId, set), eq(listFiles.place, 0)));
    if (first && format?.flat && recogniseList(first.bytes) === format) return set;
  }
  return null;
}

/** Takes a list that lies on this machine in hand, by its path: below the folders that may be looked into. It is only read. */
export async function receiveFrom(jobId: string, file: string): Promise<{ list: string } | Graded> {
  const { kind, real } = await allowedAt(file, `There is no file ${file} on this machine.`);
  if (kind !== 'file') throw new RequestError(404, `${file} is a folder, not a list.`);
  const bytes = await answered(drives().bytesOf(real, LARGEST_LIST));
  if (!bytes) throw new RequestError(422, `${file} cannot be opened, or is larger than any list.`);
  return receive(jobId, path.basename(real), bytes, []);
}

/** Files that arrive together are laid in the order of their names until a person says otherwise. */
async function inOrder(listId: string): Promise<void> {
  const db = await database();
  const rows = await db
    .select({ place: listFiles.place, fileName: listFiles.fileName })
    .from(listFiles)
    .where(eq(listFiles.listId, listId));
  await reorder(
    listId,
    inLayerOrder(rows).map((r) => r.place),
  );
}

/** Gives files their places anew: `order` holds the old places from the bottom up. */
async function reorder(listId: string, order: readonly number[]): Promise<void> {
  await write(async (tx) => {
    const rows = await tx.select().from(listFiles).where(eq(listFiles.listId, listId));
    const wanted = order.flatMap((place) => rows.find((r) => r.place === place) ?? []);
    if (wanted.length !== rows.length || new Set(wanted).size !== rows.length)
      throw new RequestError(422, 'The order must name each file once.');
    await tx.delete(listFiles).where(eq(listFiles.listId, listId));
    for (const [place, row] of wanted.entries()) await tx.insert(listFiles).values({ ...row, place });
  });
}

/** What became of a file of grades, in words, and the batch of decisions that it is. */
export interface Graded {
  readonly grades: string;
  readonly batch: string;
}

async function takeGrades(jobId: string, fileName: string, text: string): Promise<Graded> {
  const { list } = await workspace(jobId);
  if (!list) throw new RequestError(409, `${fileName} holds grades; bring in the list they belong to first.`);
  const { grades, problems } = readCdlFile(text);
  const decisions = gradeDecisions(list, grades);
  if (decisions.length === 0)
    throw new RequestError(422, `${fileName}: ${problems[0] ?? 'none of its grades names an event, clip or file of this cut.'}`);
  const batch = await decide(jobId, decisions);
  const given = new Set(decisions.map((d) => JSON.stringify(d.kind === 'grade' && d.cdl)));
  const unused = grades.filter((g) => !given.has(JSON.stringify(g.cdl))).length;
  const unnamed = unused > 0 ? `; ${unused} grades name no event of this cut` : '';
  return { grades: `${fileName}: ${decisions.length} events graded${unnamed}${problems.length > 0 ? `; ${problems[0]}` : ''}`, batch };
}

async function rowOf(jobId: string, listId: string): Promise<ListRow> {
  await workspace(jobId);
  const [row] = await (await database())
    .select()
    .from(lists)
    .where(and(eq(lists.id, listId), eq(lists.jobId, jobId)));
  if (!row) throw new RequestError(404, 'There is no such list.');
  return row;
}

async function arrived(jobId: string, listId: string): Promise<ListRow> {
  const row = await rowOf(jobId, listId);
  if (row.state !== 'arrived') throw new RequestError(409, 'This list is imported already; import the file on its own.');
  return row;
}

/** What a person set, in the reader's terms. Throws RequestError 400 with what is wrong. */
export function optionsOf({ rate, raster, sequence, columns }: Reading): ListOptions {
  const parsed = rate ? parseRate(rate) : null;
  if (rate && !parsed) throw new RequestError(400, `"${rate}" is no frame rate.`);
  const [width, height] = (raster ?? '').split(/[x×]/i).map(Number);
  return {
    ...(parsed ? { rate: parsed } : {}),
    ...(width && height ? { raster: { width, height } } : {}),
    ...(sequence ? { sequence } : {}),
    ...(columns ? { columns } : {}),
  };
}

/** The other way: options as a person set them. */
export const readingAs = ({ rate, raster, sequence, columns }: ListOptions): Reading => ({
  ...(rate ? { rate: formatRate(rate) } : {}),
  ...(raster ? { raster: `${raster.width}x${raster.height}` } : {}),
  ...(sequence ? { sequence } : {}),
  ...(columns ? { columns } : {}),
});

/** A list read as it was taken in, read with other options, and read without any but choices. */
export async function readThrice(
  jobId: string,
  listId: string,
  reading: Reading,
): Promise<{ row: ListRow; before: Delivery; after: Delivery; unset: Delivery; sizes: number[] }> {
  const row = await rowOf(jobId, listId);
  const options = optionsOf(reading);
  const before = await readListRow(await database(), row, row.state === 'arrived' ? onlyChoices(options) : row.options);
  const after = await readListRow(await database(), row, options);
  const files = await (await database())
    .select({ bytes: listFiles.bytes })
    .from(listFiles)
    .where(eq(listFiles.listId, listId))
    .orderBy(listFiles.place);
  const unset = await readListRow(await database(), row, onlyChoices(options));
  return { row, before, after, unset, sizes: files.map((f) => f.bytes.length) };
}

/** Which cut and which columns are choices, not corrections: both readings are made with them. */
const onlyChoices = ({ sequence, columns }: ListOptions): ListOptions => ({
  ...(sequence ? { sequence } : {}),
  ...(columns ? { columns } : {}),
});

/** Takes a list in as the job's cut, or beside it; one that was taken in already is read anew. Returns the ids it has. */
export async function take(jobId: string, listId: string, { reading, as, apart, order }: z.infer<typeof takeSchema>): Promise<string[]> {
  const row = await rowOf(jobId, listId);
  const options = optionsOf(reading);
  if (order) await reorder(listId, order);
  const ids = apart ? await split(row) : [listId];
  for (const id of ids) {
    const { list } = await readListRow(await database(), { ...row, id }, options);
    if (list.tracks.every((t) => t.events.length === 0)) {
      const [first] = list.notices;
      throw new RequestError(
        422,
        `It holds no event that could be read.${first ? ` ${lineOf(first.place) === null ? '' : `Line ${lineOf(first.place)}: `}${first.message}` : ''}`,
      );
    }
    const state = as === 'cut' && id === ids[0] ? 'cut' : 'beside';
    const later = row.state === state ? {} : { createdAt: Date.now(), sequence: next(lists.sequence) };
    await write((tx) =>
      tx
        .update(lists)
        .set({ state, options, ...later })
        .where(eq(lists.id, id)),
    );
  }
  decided(jobId);
  return ids;
}

/** Makes each file of a list a list of its own; the first keeps the id. */
async function split(row: ListRow): Promise<string[]> {
  return write(async (tx) => {
    const files = await tx.select().from(listFiles).where(eq(listFiles.listId, row.id)).orderBy(listFiles.place);
    const ids = [row.id];
    for (const file of files.slice(1)) {
      const id = randomUUID();
      await tx.insert(lists).values({ ...row, id });
      await tx.delete(listFiles).where(and(eq(listFiles.listId, row.id), eq(listFiles.place, file.place)));
      await tx.insert(listFiles).values({ ...file, listId: id, place: 0 });
      ids.push(id);
    }
    return ids;
  });
}

/** Lets a list go that is not the job's cut. Cuts stay: decisions were made about them. */
export async function discard(jobId: string, listId: string): Promise<void> {
  const row = await rowOf(jobId, listId);
  if (row.state === 'cut') throw new RequestError(409, 'Decisions were made about this cut; it stays in the job.');
  await write(async (tx) => {
    await tx.delete(listFiles).where(eq(listFiles.listId, listId));
    await tx.delete(lists).where(eq(lists.id, listId));
  });
  decided(jobId);
}

/** Every list of a job, newest first. */
export async function listEntries(jobId: string): Promise<ListEntry[]> {
  const { listRow } = await workspace(jobId);
  const db = await database();
  const rows = await db.select().from(lists).where(eq(lists.jobId, jobId)).orderBy(desc(lists.sequence));
  const names = await db.select({ listId: listFiles.listId, fileName: listFiles.fileName }).from(listFiles).orderBy(listFiles.place);
  return rows.map((row) => ({
    id: row.id,
    state: row.state,
    current: row.id === listRow?.id,
    reading: readingAs(row.options),
    files: names.filter((n) => n.listId === row.id).map((n) => n.fileName),
    createdAt: row.createdAt,
  }));
}

/** The job's cut beside another of its lists. */
export async function besideOf(jobId: string, listId: string) {
  const { list, listRow } = await workspace(jobId);
  const row = await rowOf(jobId, listId);
  if (!list || !listRow || listRow.id === listId) throw new RequestError(409, 'Two lists are needed to lay them beside each other.');
  const other = await readListRow(await database(), row);
  if (!sameSpeed(other.list.rate, list.rate))
    throw new RequestError(422, 'The two lists run at different rates. Read the other one at the rate of the cut, then compare.');
  return { cut: list, other: other.list, fileName: other.files.map((f) => f.fileName).join(', '), beside: layBeside(list, other.list) };
}

/** Carries aspects over from another list as one batch of decisions, which is undone as one. */
export async function carry(
  jobId: string,
  listId: string,
  wanted: { aspects: Parameters<typeof carryDecisions>[2]; events: readonly string[] | null; onlyWhatLacks: boolean },
) {
  const { beside, fileName } = await besideOf(jobId, listId);
  const decisions = carryDecisions(beside, fileName, wanted.aspects, wanted.events && new Set(wanted.events), wanted.onlyWhatLacks);
  if (decisions.length === 0) throw new RequestError(422, 'There is nothing of that to copy.');
  return { batch: await decide(jobId, decisions), events: decisions.length };
}

/** A list of so many events takes about 50 ms to write and read back: larger ones are written on a thread. */
const MANY = 500;

/** The cut as it stands, in another format, with what that cannot carry. */
export async function written(
  jobId: string,
  { format: name, ...options }: Writing,
): Promise<Written & { format: (typeof LIST_FORMATS)[number] }> {
  const { list } = await workspace(jobId);
  const format = LIST_FORMATS.find((f) => f.extensions.includes(name));
  if (!list) throw new RequestError(409, 'There is no list yet to write.');
  if (!format) throw new RequestError(400, `There is no format ${name}.`);
  const title = options.title || list.title;
  const stem = title.replace(/[^\w.-]+/g, '_') || 'list';
  const fileName = `${stem}.${name}`;
  const events = list.tracks.reduce((sum, t) => sum + t.events.length, 0);
  const made =
    events > MANY
      ? await mediaThreads().writeList({ list, extension: name, fileName, options: { ...options, title } })
      : writeList(list, format, fileName, { ...options, title });
  return { ...made, format };
}

/** One of the files of `written`, as bytes. */
export async function writtenFile(jobId: string, writing: Writing, fileName: string): Promise<Uint8Array> {
  const file = (await written(jobId, writing)).files.find((f) => f.fileName === fileName);
  if (!file) throw new RequestError(404, 'No such file would be written.');
  return file.bytes;
}
