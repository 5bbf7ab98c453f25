/** What can be said of media work without opening the media engine, which takes a moment. */
export * from './choices';
export * from './faults';
export * from './halves';
export * from './room';
