export { readOtio } from './read';
export { writeOtio } from './write';
