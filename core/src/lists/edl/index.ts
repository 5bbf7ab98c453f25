export { type EdlOptions, readEdl } from './read';
export { writeEdl } from './write';
