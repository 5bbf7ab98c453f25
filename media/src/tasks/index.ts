export * from './checksums';
export * from './fingerprints';
export * from './prove';
export * from './proxies';
export * from './return';
export * from './scan';
export * from './task';
