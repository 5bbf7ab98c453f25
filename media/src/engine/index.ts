export * from './av';
export { HEARD } from './listen';
export * from './reader';
export * from './scaler';
export * from './writer';
