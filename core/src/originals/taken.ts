import type { z } from 'zod';
import { correctionSchema, folderCorrectionSchema, withCorrections } from './corrections';
import { elsewhereSchema, madeElsewhere } from './elsewhere';
import type { Original } from './model';
import { linkProxies, proxyWordSchema } from './proxies';
import { joinSchema, joinSpans } from './spans';
import { withWarnings } from './warnings';

/** The decisions that are about originals and hold for every cut of a job. */
export const originalWordSchemas = [correctionSchema, folderCorrectionSchema, proxyWordSchema, joinSchema, elsewhereSchema] as const;
export type OriginalWord = z.infer<(typeof originalWordSchemas)[number]>;

/** Originals as they are taken to be, in the order they were found. */
export interface Taken {
  readonly originals: readonly Original[];
  /** For each proxy, the path of its original. */
  readonly proxyOf: ReadonlyMap<string, string>;
  /** Paths of clips that were made elsewhere from shots of the cut. */
  readonly elsewhere: ReadonlySet<string>;
}

/**
 * From what a scan found to what the job works with: takes over several files joined, proxies
 * linked, what a person says put in place of what the sources say, and what shows only by comparison
 * warned of.
 */
export function takenAs(found: readonly Original[], words: readonly OriginalWord[] = []): Taken {
  const whole = joinSpans(
    found,
    words.filter((w) => w.kind === 'join'),
  );
  // Proxies are told by what the files say: a correction of one must not tear the two apart.
  const proxyOf = linkProxies(
    whole,
    words.filter((w) => w.kind === 'proxy'),
  );
  const corrected = withCorrections(
    whole,
    words.filter((w) => w.kind === 'correct' || w.kind === 'correct-folder'),
  );
  const elsewhere = madeElsewhere(
    whole,
    words.filter((w) => w.kind === 'made-elsewhere'),
  );
  return { originals: withWarnings(corrected, proxyOf), proxyOf, elsewhere };
}
