import { type ReturnAsked, returnAskedSchema } from '@gemello/core';
import { eq } from 'drizzle-orm';
import type { KeptReturn } from '../contract';
import { database, write } from './db/open';
import { keptReturns } from './db/schema';

/** The ways in which returns are asked for that were kept under names, in their order. */
export async function keptWays(): Promise<KeptReturn[]> {
  const rows = await (await database()).select().from(keptReturns).orderBy(keptReturns.name);
  // What an earlier version kept lacks what it did not know.
  return rows.map(({ name, asked }) => ({ name, asked: returnAskedSchema.parse(asked) }));
}

/** Keeps one under a name; the one that had the name before is replaced. */
export async function keepWay(name: string, asked: ReturnAsked): Promise<void> {
  await write((tx) => tx.insert(keptReturns).values({ name, asked }).onConflictDoUpdate({ target: keptReturns.name, set: { asked } }));
}

export async function forgetWay(name: string): Promise<void> {
  await write((tx) => tx.delete(keptReturns).where(eq(keptReturns.name, name)));
}
