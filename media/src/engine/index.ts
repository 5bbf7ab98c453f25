export * from './av';
export * from './reader';
export * from './scaler';
export * from './writer';
