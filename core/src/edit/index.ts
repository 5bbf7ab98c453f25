export * from './describe';
export * from './model';
