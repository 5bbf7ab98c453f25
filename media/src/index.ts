export * from './compose';
export * from './drives';
export type { Readable } from './engine/reader';
export * from './pictures';
export * from './plain';
export * from './probe';
export * from './tasks';
export * from './threads';
export type { DrawPayload, StillPayload } from './worker';
