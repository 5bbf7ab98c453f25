import { surerBy } from '@gemello/core';

/** How well a place agrees with the reference: on the mean, and each of some pictures, the same for all that are held against each other. */
export interface Agreeing {
  readonly score: number;
  readonly values: readonly number[];
}

/** Certainty (`surerBy`) below which two takes are alike, and a difference that coding makes. */
const [ALIKE, CODED] = [3, 0.01];

/** True where pictures cannot tell two takes apart. */
export const alike = (better: Agreeing, other: Agreeing): boolean => better.score - other.score < CODED || alikeInOne(better, other);

/** True where pictures cannot tell two places of one take apart, which are coded alike. */
export const alikeInOne = (better: Agreeing, other: Agreeing): boolean => surerBy(better.values, other.values) < ALIKE;
