import { AS_IT_IS, type Laid, type Luma, type Mask, runFrom, type SoughtRun, soughtPrint, spread, warped } from '../proof';
import type { Frames } from '../time';

/** The pictures of one shot of a reference. Offsets count from its first frame. */
export interface ShotPictures {
  readonly length: Frames;
  reference(offset: Frames): Luma | null;
  readonly mask: Mask;
}

/** Offsets of a shot away from its edges, where a transition may still run. */
export function innerOf(length: Frames): Frames[] {
  const edge = Math.min(8, Math.floor(length * 0.2));
  return Array.from({ length: length - 2 * edge }, (_, i) => edge + i);
}

/** How sources are thought to be laid when a shot is looked for: as they are and mirrored first, and otherwise only where that finds nothing. */
export const LIKELY: readonly Laid[] = [AS_IT_IS, { ...AS_IT_IS, flip: 'horizontal' }];

/** Enlarged by so much, its middle to either side; reduced; upside down. */
const ENLARGED = [1.2, 1.45, 1.8];
export const UNLIKELY: readonly Laid[] = [
  { ...AS_IT_IS, flip: 'vertical' },
  ...[0.8, 0.6].map((scale) => ({ ...AS_IT_IS, scale })),
  ...ENLARGED.flatMap((scale) => {
    const aside = ((scale - 1) / 2) * 0.66;
    return [0, -aside, aside].flatMap((x) => [0, -aside, aside].map((y) => ({ ...AS_IT_IS, scale, x, y })));
  }),
];

/** What undoes a way of laying that does not turn: the picture of the reference as its source would show it. */
function undone({ scale, x, y, flip }: Laid): Laid {
  return {
    scale: 1 / scale,
    x: ((flip === 'horizontal' ? 1 : -1) * x) / scale,
    y: ((flip === 'vertical' ? 1 : -1) * y) / scale,
    rotation: 0,
    flip,
  };
}

/** Runs of a shot's pictures as they would stand in a source that is laid in one way. Runs that follow each other in time at natural speed. */
export function soughtIn({ length, reference, mask }: ShotPictures, laid: Laid, runs: number): SoughtRun[] {
  const back = undone(laid);
  const seen = maskIn(mask, laid, back);
  return spread(innerOf(length), runs).map((at) =>
    runFrom(at, (offset) => {
      const luma = offset < length ? reference(offset) : null;
      return luma && soughtPrint(warped(luma, back), seen);
    }),
  );
}

/** The part of a source that is seen in the reference: the same mask for the same way of laying, so that what is reckoned from it is kept. */
const masks = new WeakMap<Mask, Map<Laid, Mask>>();

function maskIn(mask: Mask, laid: Laid, back: Laid): Mask {
  const known = masks.get(mask) ?? new Map<Laid, Mask>();
  masks.set(mask, known);
  const made = known.get(laid) ?? Uint8Array.from(warped(Float32Array.from(mask), back), (v) => (v > 0.9 ? 1 : 0));
  known.set(laid, made);
  return made;
}
