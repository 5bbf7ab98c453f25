export * from './apply';
export * from './decision';
export type { Replaced, Room } from './draft';
export type { Carried } from './kinds/carry';
export { halfKey } from './kinds/split';
export * from './making';
export { type Refusal, type RefusalCode, refusalText } from './refusal';
export { ON_CUT, onEvent, type Scope, scopeSchema } from './scope';
export * from './transfer';
