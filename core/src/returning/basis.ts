import { fileMark, type Original } from '../originals';
import type { ReturnClip } from './plan';

/** Plain values that a returned clip rests on: what it was planned to be, and the file it is made of. */
export const basisOfClip = (clip: ReturnClip, original: Original): readonly unknown[] => [
  // Where it stands in the cut is of no account to a clip that neither sounds nor reads by it.
  clip.sound === 'guide' || clip.sound === 'reference' || clip.burn?.burnIn.includes('{record}') ? clip : { ...clip, record: null },
  fileMark(original),
  original.frames,
  original.gaps,
];
