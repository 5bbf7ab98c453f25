export * from './claims';
export * from './corrections';
export * from './describe';
export * from './model';
export * from './names';
export * from './proxies';
export * from './sidecars';
export * from './warnings';
