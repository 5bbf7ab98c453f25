export { type DemoPaths, demoPaths, generateDemo } from './generate';
