export * from './align';
export * from './fingerprint';
export * from './reframe';
export * from './search';
export * from './verdict';
export * from './wording';
