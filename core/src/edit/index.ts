export * from './arrange';
export * from './describe';
export * from './model';
export { placementSchema, retimeSchema, speedKeysSchema, transitionSchema } from './schemas';
