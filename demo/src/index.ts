export { type DemoPaths, demoPaths, generateDemo } from './generate';
export { DEMO_JOB, seedDemo } from './seed';
