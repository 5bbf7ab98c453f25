export * from './describe';
export * from './evidence';
export * from './pair';
export * from './rules';
