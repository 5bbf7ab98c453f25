import type { z } from 'zod';
import type { Draft } from './draft';
import type { Refusal } from './refusal';
import type { Scope } from './scope';

/**
 * One kind of decision: what it holds, what it is about, what it does to a cut, how it is told. A new kind is a file in
 * `kinds/` and a line in its registry.
 */
export interface Kind<S extends z.ZodType<{ kind: string }>> {
  readonly schema: S;
  readonly scope: (decision: z.infer<S>) => Scope;
  /** Takes it into the cut; a refusal leaves the cut as it is. Absent where it says nothing of events. */
  readonly apply?: (draft: Draft, decision: z.infer<S>) => Refusal | null;
  /** What it does, in words that go on "Event 012: …". */
  readonly says: (decision: z.infer<S>) => string;
  /** The decision with its paths as they are now, where it holds any. */
  readonly moved?: (decision: z.infer<S>, at: (path: string) => string) => z.infer<S>;
}

export const kind = <S extends z.ZodType<{ kind: string }>>(made: Kind<S>): Kind<S> => made;

/** The file name at the end of a path. */
export const nameOf = (path: string): string => path.split('/').pop() ?? path;

/** `+3 frames`, `-1 frame`. */
export const framesText = (n: number): string => `${n > 0 ? '+' : ''}${n} ${Math.abs(n) === 1 ? 'frame' : 'frames'}`;
