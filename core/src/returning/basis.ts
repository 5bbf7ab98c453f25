import { fileMark, type Original } from '../originals';
import type { ReturnClip } from './plan';

/** Plain values that a returned clip rests on: what it was planned to be, and the file it is made of. */
export const basisOfClip = (clip: ReturnClip, original: Original): readonly unknown[] => [
  clip,
  fileMark(original),
  original.frames,
  original.gaps,
];
