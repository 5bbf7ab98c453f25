import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { createClient } from '@libsql/client';
import { drizzle, type LibSQLDatabase } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { DATA, MIGRATIONS } from '../config';
import * as schema from './schema';

export type Database = LibSQLDatabase<typeof schema>;

/** How long a writer waits for another to be done, in milliseconds. */
const PATIENCE = 10_000;

let opened: Promise<Database> | null = null;

/** The database, opened and brought up to date on first use. */
export function database(): Promise<Database> {
  opened ??= open();
  return opened;
}

async function open(): Promise<Database> {
  mkdirSync(DATA, { recursive: true });
  const client = createClient({ url: `file:${path.join(DATA, 'gemello.db')}`, timeout: PATIENCE });
  await client.execute('PRAGMA journal_mode = WAL');
  const db = drizzle(client, { schema });
  await migrate(db, { migrationsFolder: MIGRATIONS });
  return db;
}

/** Splits many rows into inserts small enough for SQLite's limit of variables. */
export function chunks<T>(rows: readonly T[], size = 500): T[][] {
  const parts: T[][] = [];
  for (let at = 0; at < rows.length; at += size) parts.push(rows.slice(at, at + size));
  return parts;
}
