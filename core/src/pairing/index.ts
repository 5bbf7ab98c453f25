export { clipsHolding } from './candidates';
export * from './criteria';
export * from './describe';
export { type Contender, evidenceOf, examine, isShort } from './examine';
export { lineMet } from './judge';
export { indexOriginals, type OriginalIndex, originalAt, withOriginals } from './originals-index';
export * from './pair';
export * from './rules';
export * from './wording';
