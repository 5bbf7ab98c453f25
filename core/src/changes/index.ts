export * from './beside';
export * from './carry';
export * from './follow';
