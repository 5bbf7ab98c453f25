export * from './envelope';
export * from './judge';
export * from './lay';
