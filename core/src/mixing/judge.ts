import type { MixLay, NoLay } from './lay';
import { MIX_WORDS } from './wording';

/** How a mix would lie under a cut of so many seconds, and whether it may. */
export interface MixJudged {
  readonly lay: MixLay | null;
  /** In one sentence: how it lies, or why it may not. */
  readonly says: string;
  readonly fits: boolean;
}

/** What a mix may lack of a cut at its head and its tail, in seconds: a mix may begin and end in silence that was not written. */
const MAY_LACK = 1;

/**
 * Says whether a mix may lie under a cut. `span`: the cut's seconds, `begins`: where the guide's first sample lies in it, `length`: the
 * seconds of the mix, `frame`: those of a frame. What runs off by more than half a frame until the end is refused, since it would have to be
 * made anew to fit; so is what lacks more than a second of the cut.
 */
export function judgeMix(
  laid: MixLay | NoLay,
  { span, begins, length, frame }: { span: number; begins: number; length: number; frame: number },
): MixJudged {
  if ('fault' in laid) return { lay: null, says: MIX_WORDS[laid.fault](), fits: false };
  const off = Math.abs(laid.drift * 1e-6 * span);
  if (laid.speed !== 1)
    return {
      lay: laid,
      says: MIX_WORDS.speed({ percent: (Math.abs(1 / laid.speed - 1) * 100).toFixed(2), side: laid.speed > 1 ? 'less' : 'more' }),
      fits: false,
    };
  if (off > frame / 2)
    return { lay: laid, says: MIX_WORDS.drift({ frames: (off / frame).toFixed(1), ppm: laid.drift.toFixed(0) }), fits: false };
  const starts = begins + laid.offset;
  const [head, tail] = [starts, span - starts - length];
  if (head > MAY_LACK || tail > MAY_LACK)
    return { lay: laid, says: MIX_WORDS.short({ head: Math.max(0, head).toFixed(1), tail: Math.max(0, tail).toFixed(1) }), fits: false };
  return {
    lay: laid,
    says: MIX_WORDS.lies({
      side: starts > 0 ? 'after' : 'before',
      seconds: Math.abs(starts).toFixed(3),
      ppm: laid.drift.toFixed(1),
      agreeing: String(laid.agreeing),
      places: String(laid.places),
    }),
    fits: true,
  };
}
