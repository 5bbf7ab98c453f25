export { looksLikeEdl } from './grammar';
export { readEdl } from './read';
export { writeEdl } from './write';
