import type { Frames } from '../../time';
import { CONFLICT, EXACT, type Grade, UNKNOWN } from './grade';

/**
 * What came of holding the pictures of an original against those that the reference has at an event. `open`: they cannot be told, being
 * dark, soft or covered.
 */
export type PictureLook = { readonly path: string } & (
  | {
      readonly is: 'found';
      /** The frame, from 0, that stands for the source in, and how far aside it may lie where several look alike. */
      readonly sourceStartFrame: Frames;
      readonly range: readonly [Frames, Frames];
      /** True where the reference shows it at another speed, or elsewhere in the frame, than the list has it. */
      readonly altered: boolean;
      /** Mean agreement, 0..1. */
      readonly score: number;
    }
  /** `best`: that of another original, which agrees better. */
  | { readonly is: 'another'; readonly score: number; readonly best: number | null }
  | { readonly is: 'open' }
);

/** How the pictures of an original agree with the reference; `look` is null where they were not compared. */
export type PictureEvidence = Grade & { readonly criterion: 'picture'; readonly look: PictureLook | null };

/** `start`: the frame of the original that would stand for the source in. */
export function comparePicture(look: PictureLook | null, start: Frames): PictureEvidence {
  const criterion = 'picture';
  if (!look) return NOT_COMPARED;
  if (look.is === 'open') return { criterion, look, ...UNKNOWN.list };
  if (look.is === 'another') return { criterion, look, ...CONFLICT };
  const aside = look.sourceStartFrame - start;
  const [low, high] = look.range;
  if (aside + low > 0 || aside + high < 0) return { criterion, look, grade: 'aside', frames: aside };
  return { criterion, look, ...(look.altered ? { grade: 'altered' } : EXACT) };
}

const NOT_COMPARED: PictureEvidence = { criterion: 'picture', look: null, ...UNKNOWN.both };
