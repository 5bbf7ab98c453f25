import { fileMark, type Original, type PictureLook, pictureEvents, type Standing, type StandingEvent } from '@gemello/core';
import { and, eq } from 'drizzle-orm';
import { type Database, database, write } from './db/open';
import { pictureLooks } from './db/schema';
import { sinceTask } from './db/sequence';
import { lookMark } from './marks';

/** What was seen of the pictures of originals, by the key of its event. */
export type LooksAt = ReadonlyMap<string, readonly PictureLook[]>;

type Reference = Parameters<typeof lookMark>[2];

/** What was seen and still holds: of the same reference, of events that are laid as they were, of files that are what they were. `task`: only by it, and by those that were asked for later. */
export async function readLooks(
  db: Database,
  jobId: string,
  list: Standing,
  reference: Reference | null,
  originalAt: (path: string) => Original | undefined,
  task: string | null = null,
): Promise<LooksAt> {
  if (!reference) return new Map();
  const rows = await db
    .select()
    .from(pictureLooks)
    .where(and(eq(pictureLooks.jobId, jobId), task === null ? undefined : sinceTask(pictureLooks.seenBy, task)));
  if (rows.length === 0) return new Map();
  const events = new Map(pictureEvents(list).map((e) => [e.key, e as StandingEvent] as const));
  return new Map(
    rows.flatMap(({ event: key, madeFrom, data }) => {
      const event = events.get(key);
      if (!event || madeFrom !== lookMark(list, event, reference)) return [];
      const looks = data.looks.filter(({ path }) => {
        const original = originalAt(path);
        return original !== undefined && data.files[path] === fileMark(original);
      });
      return looks.length > 0 ? [[key, looks] as const] : [];
    }),
  );
}

/** Keeps what a task saw of the candidates of some events, in place of what was seen of them before. */
export async function keepLooks(
  task: string,
  jobId: string,
  list: Standing,
  reference: Reference,
  seen: readonly { readonly event: string; readonly looks: readonly PictureLook[] }[],
  originalAt: (path: string) => Original | undefined,
): Promise<void> {
  const events = new Map(pictureEvents(list).map((e) => [e.key, e as StandingEvent] as const));
  const rows = seen.flatMap(({ event: key, looks }) => {
    const event = events.get(key);
    if (!event) return [];
    const files = Object.fromEntries(
      looks.flatMap(({ path }) => {
        const original = originalAt(path);
        return original ? [[path, fileMark(original)]] : [];
      }),
    );
    return [{ jobId, event: key, madeFrom: lookMark(list, event, reference), seenBy: task, data: { looks, files } }];
  });
  await database();
  await write(async (tx) => {
    for (const row of rows)
      await tx
        .insert(pictureLooks)
        .values(row)
        .onConflictDoUpdate({ target: [pictureLooks.jobId, pictureLooks.event], set: row });
  });
}
