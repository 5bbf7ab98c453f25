import path from 'node:path';
import { type Original, type PictureLook, type Settling, withLooks, withProposals, worthComparing } from '@gemello/core';
import type { MediaThreads } from '@gemello/media';
import { progressTo } from './input';

/** A cut once the candidates of its open events were held against a reference, and what has none was looked for; paired again by that. */
export async function comparedWith(
  pool: MediaThreads,
  settled: Settling,
  originals: readonly Original[],
  movie: string,
): Promise<Settling> {
  const reference = await pool.probe(path.resolve(movie));
  const { compareAbreast, withCache } = await import('@gemello/media');
  const { pairings } = settled.paired;
  const list = withProposals(settled.applied.list, pairings);
  const looksAt = new Map<string, readonly PictureLook[]>();
  const problems = await withCache((cache) =>
    compareAbreast(
      pool,
      { list, originals, reference, cache },
      worthComparing(pairings, null),
      (seen) => {
        for (const { event, looks } of seen) looksAt.set(event, looks);
      },
      progressTo(process.stderr, 'pictures'),
    ),
  );
  for (const p of problems) process.stderr.write(`${p.path}: ${p.message}\n`);
  return withLooks(settled, looksAt);
}
