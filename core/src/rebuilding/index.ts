export * from './assemble';
export * from './describe';
export * from './find';
export { innerOf, soughtIn } from './seek';
