import { cpSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { createClient } from '@libsql/client';
import { drizzle } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { pause, type Round } from './rounds';
import { serverAt } from './server';

/** The migrations of the application, one after the other as the journal says. */
const MIGRATIONS = fileURLToPath(new URL('../app/migrations', import.meta.url));
const JOURNAL = path.join('meta', '_journal.json');

/** A folder of an earlier version is brought up to date; the server is killed in the middle of it. Its job is there afterwards, and it is sound. */
export const oldFolder: Round = async ({ folder, server }, random, number) => {
  const at = path.join(folder, `old-${number}`);
  const former = path.join(at, 'migrations');
  cpSync(MIGRATIONS, former, { recursive: true });
  const journal = JSON.parse(readFileSync(path.join(former, JOURNAL), 'utf8')) as { entries: object[] };
  const many = 1 + Math.floor(random() * journal.entries.length);
  writeFileSync(path.join(former, JOURNAL), JSON.stringify({ ...journal, entries: journal.entries.slice(0, many) }));
  const data = path.join(at, 'desk');
  mkdirSync(data);
  const client = createClient({ url: `file:${path.join(data, 'gemello.db')}` });
  await migrate(drizzle(client), { migrationsFolder: former });
  await client.execute("INSERT INTO jobs (id, title, created_at) VALUES ('an-old-job', 'Old', 1)");
  client.close();
  const old = serverAt(Number(new URL(server.base).port) + 1, data);
  old.begin();
  await pause(random() * 2500);
  await old.kill();
  await old.start();
  const answer = await old.ask('GET', '/api/jobs/an-old-job');
  await old.kill();
  rmSync(at, { recursive: true });
  return answer?.status === 200 ? [] : [`a job of ${many} migrations before: ${JSON.stringify(answer)}`];
};
