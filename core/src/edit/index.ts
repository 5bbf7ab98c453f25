export * from './arrange';
export * from './describe';
export * from './model';
