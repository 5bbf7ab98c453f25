import { eq, isNull } from 'drizzle-orm';
import { database, type Transaction, write } from './db/open';
import { jobs } from './db/schema';

type Named = Pick<typeof jobs.$inferInsert, 'title' | 'listTitle'>;

/** Sets the name of a job, or the title of its cut, and keeps both in small letters: SQLite knows small letters of ASCII alone. */
export async function nameJob(tx: Transaction, jobId: string, names: Partial<Named>): Promise<void> {
  const [kept] = await tx.select().from(jobs).where(eq(jobs.id, jobId));
  if (!kept) return;
  const { title, listTitle } = { ...kept, ...names };
  const foundBy = folded(`${title} ${listTitle ?? ''}`);
  await tx.update(jobs).set({ title, listTitle, foundBy }).where(eq(jobs.id, jobId));
}

/** Small letters, as they are looked for. */
export const folded = (text: string): string => text.toLowerCase();

/** Lets jobs be found that a version before kept. Done at start. */
export async function nameFormer(): Promise<void> {
  const former = await (await database()).select({ id: jobs.id }).from(jobs).where(isNull(jobs.foundBy));
  if (former.length === 0) return;
  await write(async (tx) => {
    for (const { id } of former) await nameJob(tx, id, {});
  });
}
