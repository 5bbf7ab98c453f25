import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { DiskRefuses } from '@gemello/media';
import { createClient } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { DATA, MIGRATIONS } from '../config';
import * as schema from './schema';
import { type Line, oneByOne } from './turns';

type Opened = LibSQLDatabase<typeof schema>;

/** The database as everyone reads it. What writes goes through `write`. */
export type Database = Pick<Opened, 'select' | 'selectDistinct' | 'values'>;

/** What may be done inside of one writing. */
export type Transaction = Parameters<Parameters<Opened['transaction']>[0]>[0];

/**
 * Readings and writings have connections of their own: one that has read holds on to what it saw, and cannot write once
 * another has.
 */
interface Connections {
  readonly reading: Opened;
  readonly writing: Opened;
}
let opened: Promise<Connections> | null = null;
const connections = (): Promise<Connections> => {
  opened ??= open();
  return opened;
};

/** The database, opened and brought up to date on first use; for reading. */
export const database = async (): Promise<Database> => (await connections()).reading;

const inTurn: Line = oneByOne();

/** How long a writing is tried while another process holds the database, in milliseconds, and how long it waits between. */
const PATIENCE = 10_000;
const PAUSE = 25;

/**
 * Writes: all of `work` or none of it. Writings of this process stand in one line, since two at once would wait for each
 * other inside of the driver, where the whole server waits with them. `work` therefore does nothing but ask the database,
 * and is done again where another process was writing.
 */
export function write<T>(work: (tx: Transaction) => Promise<T>): Promise<T> {
  return inTurn(async () => {
    const { writing } = await connections();
    for (const until = Date.now() + PATIENCE; ; await sleep(PAUSE)) {
      // A full disk ends the transaction by itself, and taking it back is then a fault that would hide the one before.
      let fault: unknown = null;
      const heard = (tx: Transaction) =>
        work(tx).catch((error) => {
          fault = error;
          throw error;
        });
      try {
        return await writing.transaction(heard);
      } catch (error) {
        const reason = fault ?? error;
        if (!isBusy(reason) || Date.now() > until) throw reason;
      }
    }
  });
}

/** True where another process holds the database. */
const isBusy = (error: unknown): boolean => hasCode(error, /^SQLITE_(BUSY|LOCKED)/);

/** What an error says of the disk of the database, where that takes nothing; null else. */
export function refusedByDatabase(error: unknown): DiskRefuses | null {
  if (hasCode(error, /^SQLITE_FULL/)) return new DiskRefuses('full');
  return hasCode(error, /^SQLITE_READONLY/) ? new DiskRefuses('read-only') : null;
}

/** The driver's error may lie some causes deep. */
function hasCode(error: unknown, wanted: RegExp): boolean {
  for (let at = error; at instanceof Error; at = at.cause) {
    const { code } = at as { code?: unknown };
    if (typeof code === 'string' && wanted.test(code)) return true;
  }
  return false;
}

async function open(): Promise<Connections> {
  mkdirSync(DATA, { recursive: true });
  const writing = connect();
  await migrate(writing, { migrationsFolder: MIGRATIONS });
  await writing.run('PRAGMA journal_mode = WAL');
  return { writing, reading: connect() };
}

/** The driver waits on the server's own thread: here it never does. */
const connect = (): Opened => drizzle(createClient({ url: `file:${path.join(DATA, 'gemello.db')}`, timeout: 0 }), { schema });

/** Splits many rows into inserts small enough for SQLite's limit of variables. */
export function chunks<T>(rows: readonly T[], size = 500): T[][] {
  const parts: T[][] = [];
  for (let at = 0; at < rows.length; at += size) parts.push(rows.slice(at, at + size));
  return parts;
}
