export * from './scope';
export * from './spread';
