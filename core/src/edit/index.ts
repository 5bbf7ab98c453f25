export * from './describe';
export * from './identity';
export * from './model';
export * from './schemas';
export * from './standing';
