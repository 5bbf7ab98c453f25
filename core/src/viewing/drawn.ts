import { isUndrawnWipe, type Part } from '../conform';

/** Codecs of which a picture may have an alpha of its own, which a viewing copy has not. */
const MAY_HAVE_ALPHA = /^(prores|qtrle|png|tiff|exr|dpx|targa|vp8|vp9|ffv1|rawvideo|hap|cfhd|webp)/i;

/**
 * True where the parts of a picture can be put together from viewing copies. Titles, bars, what is missing, and
 * pictures that may be seen through need the compositor itself, which has the originals.
 */
export const drawnFromCopies = (parts: readonly Part[]): boolean => parts.every(isPlain);

function isPlain({ shot, layer, join }: Part): boolean {
  if (shot.drawn === 'black') return true;
  if (shot.drawn !== 'picture' || !shot.original) return false;
  if (layer > 0 && (shot.original.kind === 'still' || MAY_HAVE_ALPHA.test(shot.original.codec))) return false;
  return join === null || (join.type !== 'key' && !isUndrawnWipe(join) && !join.look?.border);
}
