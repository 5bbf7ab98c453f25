import type { Luma, Mask } from '../proof';
import type { Frames } from '../time';
import { type Change, changeOf } from './change';
import { dissolvesIn, fadesIn, type Passing } from './slow';

/** A place at which a movie goes over from one shot to the next; a cut lies before its frame and has none of its own. */
export interface Mark extends Omit<Passing, 'kind'> {
  readonly kind: 'cut' | Passing['kind'];
}

/** The threshold that is taken where none is set: between what cuts score and what movement does (docs/proof.md). */
export const USUAL_THRESHOLD = 0.12;
/** Marks below this are never shown, however low the threshold. */
export const LOWEST_THRESHOLD = 0.05;

/** The frames before which the measure finds a cut, each the best of its neighbourhood. */
export function cutsIn({ cut }: Pick<Change, 'cut'>, threshold: number): Mark[] {
  const found: Mark[] = [];
  for (let n = 1; n < cut.length; n++) {
    const score = cut[n] as number;
    if (score >= threshold && score > (cut[n - 1] ?? 0) && score >= (cut[n + 1] ?? 0))
      found.push({ kind: 'cut', frame: n, frames: 0, score });
  }
  return found;
}

/** What was found in a movie: its measures, and every mark that could count, in order. */
export interface Cutting {
  readonly change: Change;
  readonly marks: readonly Mark[];
}

/** Finds cuts, dissolves and fades. `picture` gives small pictures (96 x 54), asked for more than once around what goes over slowly. */
export function cutUp(frames: Frames, picture: (n: Frames) => Luma, mask: Mask, each?: (n: Frames) => void): Cutting {
  const change = changeOf(frames, picture, mask, each);
  const cuts = cutsIn(change, LOWEST_THRESHOLD);
  const certain = cuts.filter((c) => c.score >= USUAL_THRESHOLD).map((c) => c.frame);
  const fades = fadesIn(change);
  const dissolves = dissolvesIn(frames, certain, picture, mask).filter((d) => !fades.some((f) => overlaps(f, d)));
  // What goes over slowly has no cut inside, and black has none at its edge where a picture fades.
  const apart = (c: Mark, slow: readonly Passing[]) => !slow.some((s) => c.frame >= s.frame - 1 && c.frame <= s.frame + s.frames + 1);
  const alone = cuts.filter((c) => apart(c, fades) && (c.score >= USUAL_THRESHOLD || apart(c, dissolves)));
  return { change, marks: [...alone, ...fades, ...dissolves].sort((a, b) => a.frame - b.frame) };
}

const overlaps = (a: Passing, b: Passing): boolean => a.frame < b.frame + b.frames && b.frame < a.frame + a.frames;

/** The marks that count at a threshold. */
export const marksAt = ({ marks }: Pick<Cutting, 'marks'>, threshold: number): Mark[] => marks.filter((m) => m.score >= threshold);
