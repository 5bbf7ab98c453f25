export { isCompound } from './compound';
export { readAaf } from './read';
export { laidAsAaf, writeAaf } from './write';
