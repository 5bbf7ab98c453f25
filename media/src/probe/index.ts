export { ALONE, type Beside, headOf, reelOfFolder, stampOf } from './beside';
export { probeNumbered, probeStill } from './frames';
export { probeMovie } from './movie';
export { probeSound } from './sound';
