export * from './arrange';
export * from './basis';
export * from './compile';
export * from './geometry';
export * from './picture';
export * from './reference';
export * from './timemap';
export * from './wipe';
