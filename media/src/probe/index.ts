export { ALONE, type Beside, stampOf } from './beside';
export { probeNumbered, probeStill } from './frames';
export { probeMovie } from './movie';
export { type Guide, probeGuide, probeSound } from './sound';
