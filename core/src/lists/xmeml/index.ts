export { readXmeml } from './read';
export { writeXmeml } from './write';
