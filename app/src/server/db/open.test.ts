import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { createClient } from '@libsql/client';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { oneByOne } from './turns';

/** One writer: writings stand in line, each whole or not at all, and the server's thread waits for none of them. */
const folder = mkdtempSync(path.join(tmpdir(), 'gemello-db-'));
let open: typeof import('./open');
let schema: typeof import('./schema');
beforeAll(async () => {
  process.env.GEMELLO_DATA = folder;
  open = await import('./open');
  schema = await import('./schema');
  await open.database();
});
afterAll(() => rmSync(folder, { recursive: true }));

const job = (id: string) => ({ id, title: id, createdAt: 1 });
const titles = async () => (await (await open.database()).select().from(schema.jobs).orderBy(schema.jobs.id)).map((j) => j.id);

describe('writings', () => {
  // Two at once waited for each other on the thread that both needed, until one of them failed.
  it('that come at once are all kept', async () => {
    const all = Array.from({ length: 200 }, (_, i) =>
      open.write(async (tx) => {
        await tx.insert(schema.jobs).values(job(`once-${i}`));
        // A writing of several steps, as a batch of decisions is.
        await tx
          .update(schema.jobs)
          .set({ title: `done-${i}` })
          .where(eq(schema.jobs.id, `once-${i}`));
      }),
    );
    await Promise.all(all);
    expect((await titles()).filter((t) => t.startsWith('once-'))).toHaveLength(200);
  });
  it('that a disk does not take say whether it is full or can only be read (SQLite: SQLITE_FULL, SQLITE_READONLY)', async () => {
    const client = createClient({ url: `file:${path.join(folder, 'other.db')}` });
    const refused = async (way: string) => {
      await client.execute(way);
      return client.execute('INSERT INTO t VALUES (zeroblob(100000))').then(
        () => null,
        (error) => open.refusedByDatabase(error)?.why,
      );
    };
    await client.execute('CREATE TABLE t (a)');
    expect(await refused('PRAGMA max_page_count = 2')).toBe('full');
    expect(await refused('PRAGMA query_only = 1')).toBe('read-only');
    expect(await client.execute('SELECT * FROM nowhere').catch(open.refusedByDatabase)).toBeNull();
    client.close();
  });
  it('that fail leave nothing behind, and keep nobody from writing', async () => {
    const failing = open.write(async (tx) => {
      await tx.insert(schema.jobs).values(job('half'));
      throw new Error('on the way');
    });
    const next = open.write((tx) => tx.insert(schema.jobs).values(job('next')));
    await expect(failing).rejects.toThrow('on the way');
    await next;
    expect(await titles()).toContain('next');
    expect(await titles()).not.toContain('half');
  });
  it('are read beside, as things stood before them', async () => {
    const writing = open.write(async (tx) => {
      await tx.insert(schema.jobs).values(job('slow'));
      await sleep(300);
    });
    await sleep(100);
    expect(await titles()).not.toContain('slow');
    await writing;
    expect(await titles()).toContain('slow');
  });
  it('wait for another process without holding the thread that it is let go on, and then are done', async () => {
    const other = createClient({ url: `file:${path.join(folder, 'gemello.db')}` });
    const theirs = await other.transaction('write');
    await theirs.execute("INSERT INTO jobs (id, title, created_at) VALUES ('theirs', 'x', 1)");
    const ours = open.write((tx) => tx.insert(schema.jobs).values(job('ours')));
    await sleep(200);
    expect(await titles()).not.toContain('ours');
    await theirs.commit();
    await ours;
    expect(await titles()).toEqual(expect.arrayContaining(['ours', 'theirs']));
    other.close();
  });
});

it('a line does one thing after another, whatever becomes of it', async () => {
  const line = oneByOne();
  const said: string[] = [];
  const say = (what: string, wait: number) => async () => {
    said.push(`${what} begins`);
    await sleep(wait);
    said.push(`${what} ends`);
    if (what === 'b') throw new Error(what);
    return what;
  };
  const [a, b, c] = [line(say('a', 30)), line(say('b', 1)), line(say('c', 1))];
  await expect(b).rejects.toThrow('b');
  expect([await a, await c]).toEqual(['a', 'c']);
  expect(said).toEqual(['a begins', 'a ends', 'b begins', 'b ends', 'c begins', 'c ends']);
});
