export * from './beside';
export * from './carry';
