export * from './grip';
export * from './room';
export * from './snap';
