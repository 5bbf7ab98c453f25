export * from './found-again';
export * from './patterns';
export * from './proposals';
export * from './readings';
export * from './search';
export * from './wording';
