export * from './compile';
export * from './timemap';
