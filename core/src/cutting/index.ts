export * from './change';
export * from './import';
export * from './list';
export * from './marks';
