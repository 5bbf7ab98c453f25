import { createHash } from 'node:crypto';
import { gunzipSync, gzipSync } from 'node:zlib';
import { type Delivery, type EditList, type Identity, identitiesOf, type ListOptions, readDelivery } from '@gemello/core';
import { eq } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import type { Database } from './db/open';
import { listFiles, type lists, readings } from './db/schema';
import { LARGE_TEXT, mediaThreads } from './media';

export type ListRow = typeof lists.$inferSelect;

/** Readings are kept for this many lists and ways to read them; a list does not change once it is here. */
const read = new LRUCache<string, Delivery>({ max: 6 });

/** Reads a list from its files, as it was taken in or with other options. */
export async function readListRow(db: Database, row: ListRow, options: ListOptions = row.options): Promise<Delivery> {
  const files = await db.select().from(listFiles).where(eq(listFiles.listId, row.id)).orderBy(listFiles.place);
  const key = JSON.stringify([row.id, files.map((f) => [f.fileName, f.bytes.length]), options]);
  const found = read.get(key);
  if (found) return found;
  const given = files.map(({ fileName, bytes }) => ({ fileName, bytes }));
  const size = given.reduce((sum, { bytes }) => sum + bytes.length, 0);
  const delivery = size > LARGE_TEXT ? await mediaThreads().readList({ files: given, options }) : readDelivery(given, options);
  read.set(key, delivery);
  return delivery;
}

/** The events of a reading with the name they are kept under; made once for each list as it was read. */
const known = new WeakMap<EditList, { id: string; events: readonly Identity[] }>();

export function readingOf(list: EditList): { id: string; events: readonly Identity[] } {
  const found = known.get(list);
  if (found) return found;
  const made = readingAmong(identitiesOf(list));
  known.set(list, made);
  return made;
}

/** Events with the name they are kept under. */
export const readingAmong = (events: readonly Identity[]): { id: string; events: readonly Identity[] } => ({
  id: createHash('sha256').update(JSON.stringify(events)).digest('hex').slice(0, 32),
  events,
});

/** The row that keeps the events of a reading. */
export const readingRow = (jobId: string, id: string, events: readonly Identity[]) => ({
  id,
  jobId,
  events: gzipSync(JSON.stringify(events)),
  createdAt: Date.now(),
});

/** The readings of a job that decisions were made among, by their names. Few, and each is unpacked once. */
const unpacked = new LRUCache<string, readonly Identity[]>({ max: 24 });

export async function readingsOf(db: Database, jobId: string): Promise<Map<string, readonly Identity[]>> {
  const names = await db.select({ id: readings.id }).from(readings).where(eq(readings.jobId, jobId));
  const found = new Map<string, readonly Identity[]>();
  const wanted = names.filter(({ id }) => {
    const held = unpacked.get(id);
    if (held) found.set(id, held);
    return !held;
  });
  if (wanted.length === 0) return found;
  for (const row of await db.select().from(readings).where(eq(readings.jobId, jobId))) {
    const events = found.get(row.id) ?? (JSON.parse(gunzipSync(row.events).toString('utf8')) as Identity[]);
    unpacked.set(row.id, events);
    found.set(row.id, events);
  }
  return found;
}
