export * from './compose';
export * from './drives';
export { DiskFull, isDiskFull, isFaultOfFile, MediaError } from './engine/av';
export type { Readable } from './engine/reader';
export * from './pictures';
export * from './probe';
export * from './tasks';
export * from './threads';
export type { DrawPayload, StillPayload } from './worker';
