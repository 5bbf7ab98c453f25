export { readEdl } from './read';
export { writeEdl } from './write';
