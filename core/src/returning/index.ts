export * from './basis';
export * from './check';
export * from './plan';
