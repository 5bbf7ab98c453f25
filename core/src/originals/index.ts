export * from './describe';
export * from './model';
export * from './names';
export * from './warnings';
