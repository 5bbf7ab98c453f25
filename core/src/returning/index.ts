export * from './check';
export * from './plan';
