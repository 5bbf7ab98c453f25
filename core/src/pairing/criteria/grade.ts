import type { Frames } from '../../time';

/** What a name or reel was freed of before it agreed. */
export type Normalisation = 'case' | 'extension' | 'separators' | 'proxy-tail' | 'alias' | 'pattern';

/**
 * How well what is asked for and what is given agree, as data. `prefix`: the shorter is how the longer begins, `length`
 * characters long. `contained`: one holds the other, as a reel field that holds a clip's name. `overlaps`: `frames` of the
 * `of` that are asked for. `aside`: it agrees so many frames later. `altered`: at another speed or place in the frame. `unlike`: of
 * another kind, neither for nor against. `unknown` is no conflict: one side, or both, says nothing.
 */
export type Grade =
  | { readonly grade: 'exact' }
  | { readonly grade: 'normalised'; readonly by: readonly Normalisation[] }
  | { readonly grade: 'prefix'; readonly length: number }
  | { readonly grade: 'contained' }
  | { readonly grade: 'overlaps'; readonly frames: Frames; readonly of: Frames }
  | { readonly grade: 'aside'; readonly frames: Frames }
  | { readonly grade: 'altered' }
  | { readonly grade: 'unlike' }
  | { readonly grade: 'conflict' }
  | { readonly grade: 'unknown'; readonly lacks: 'list' | 'original' | 'both' };

export const EXACT: Grade = { grade: 'exact' };
export const CONTAINED: Grade = { grade: 'contained' };
export const UNLIKE: Grade = { grade: 'unlike' };
export const CONFLICT: Grade = { grade: 'conflict' };
export const UNKNOWN: Readonly<Record<'list' | 'original' | 'both', Grade>> = {
  list: { grade: 'unknown', lacks: 'list' },
  original: { grade: 'unknown', lacks: 'original' },
  both: { grade: 'unknown', lacks: 'both' },
};

/** How one criterion speaks, in four steps: for, somewhat for, against, or nothing to compare. */
export type EvidenceResult = 'agrees' | 'loosely' | 'disagrees' | 'unknown';

export function resultOf({ grade }: Grade): EvidenceResult {
  switch (grade) {
    case 'exact':
      return 'agrees';
    case 'normalised':
    case 'prefix':
    case 'contained':
    case 'overlaps':
    case 'aside':
    case 'altered':
      return 'loosely';
    case 'unlike':
    case 'conflict':
      return 'disagrees';
    case 'unknown':
      return 'unknown';
  }
}

/** How strictly a criterion must hold: `loose` takes what agrees once it is normalised; `unless-conflict` all that is not against it. */
export const STRICTNESS = ['exact', 'loose', 'unless-conflict', 'off'] as const;
export type Strictness = (typeof STRICTNESS)[number];

export function holds(strictness: Strictness, grade: Grade): boolean {
  switch (strictness) {
    case 'exact':
      return grade.grade === 'exact';
    case 'loose':
      return grade.grade === 'exact' || resultOf(grade) === 'loosely';
    case 'unless-conflict':
      return grade.grade !== 'conflict';
    case 'off':
      return true;
  }
}
