export { ALONE, type Beside, stampOf } from './beside';
export { probeNumbered, probeStill } from './frames';
export { probeMovie } from './movie';
export { probeSound } from './sound';
