export * from './fit';
export * from './version';
