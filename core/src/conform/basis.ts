import { fileMark } from '../originals';
import type { Conform, Layer, Shot } from './compile';
import { firstAfter } from './picture';

/**
 * Plain values that the pictures of a shot rest on: the files it is made of, which frames of them, where and how they are
 * laid, and how they are graded. Two shots of equal values show the same pictures, and one that changed shows others.
 */
export const basisOfPictures = (shot: Shot): readonly unknown[] => [...basisOfFrames(shot), shot.cdl, shot.lut, shot.viewing];

/**
 * Plain values that the proof of a shot rests on, with those of the reference beside them: which of its frames stand where,
 * and what of the cut covers it or lies below it. A grade is none of them: proofs are made of the plain pictures.
 */
export const basisOfProof = (conform: Conform, shot: Shot): readonly unknown[] => [
  basisOfFrames(shot),
  conform.frame,
  conform.referenceFit,
  conform.layers.flatMap((layer, at) => meeting(layer, shot).map((other) => [at, basisOfFrames(other), namesOf(other)])),
];

const basisOfFrames = ({ event, original, drawn, sourceStart, run, fit, tail }: Shot): readonly unknown[] => [
  original && fileMark(original),
  original && [original.frames, original.rate, original.clock, original.raster, original.pixelAspect, original.kind],
  drawn,
  sourceStart,
  run,
  fit,
  tail,
  event.record,
  event.placement,
  event.transitionIn,
];

/** What a title says is where it lies. */
const namesOf = ({ event, drawn }: Shot): readonly string[] => (drawn === 'title' ? [event.clipName, ...event.notes] : []);

/** The other shots of a layer that are seen while a shot is, those before and after it in a transition with them. */
function meeting({ shots, reach }: Layer, shot: Shot): Shot[] {
  const { in: from, out } = shot.event.record;
  const found: Shot[] = [];
  let at = firstAfter(shots, out + shot.tail - 1);
  // The next one may begin earlier, by its transition.
  if (shots[at] && startOf(shots[at] as Shot) < out + shot.tail) at++;
  // Tails only reach over the cut that comes next: one more than what `reach` tells.
  for (let i = at - 1; i >= 0; i--) {
    const other = shots[i] as Shot;
    if (other !== shot && other.event.record.out + other.tail > from) found.push(other);
    if ((reach[i] as number) <= from) break;
  }
  return found;
}

const startOf = ({ event }: Shot): number => event.record.in - (event.transitionIn?.before ?? 0);
