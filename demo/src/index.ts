export { generateDemo } from './generate';
export { type DemoPaths, demoPaths, isCurrent } from './place';
export { DEMO_JOB, seedDemo } from './seed';
