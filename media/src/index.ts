export { MediaError } from './engine/av';
export type { Readable } from './engine/reader';
export * from './pictures';
export * from './pool';
export * from './probe';
export * from './tasks';
export type { GrabPart, GrabPayload } from './worker';
