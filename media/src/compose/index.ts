export * from './canvas';
export { lutOf, stepsOf } from './colours';
export * from './compose';
export * from './luma';
export * from './sources';
export { type CoveredArea, titleArea } from './stand-ins';
