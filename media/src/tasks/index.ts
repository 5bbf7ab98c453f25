export * from './prove';
export * from './return';
export * from './scan';
export * from './task';
