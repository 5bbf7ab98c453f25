import type { Frames } from '../time';
import type { Luma, Mask } from './pictures';
import type { Passage } from './verdict';

/** Both sides of a cut, and what the reference shows around it. Frames count on the record. */
export interface CutPictures {
  /** Record in of the incoming event. */
  readonly cut: Frames;
  /** What is looked at: from the middle of what leaves to the middle of what comes in. */
  readonly from: Frames;
  readonly to: Frames;
  reference(at: Frames): Luma | null;
  /** The picture of a side as it would stand there; null where its original has none. Not asked of a side that is black. */
  leaving(at: Frames): Luma | null;
  incoming(at: Frames): Luma | null;
  /** The side that is black by the list, so that the other fades. */
  readonly black?: 'leaving' | 'incoming' | null;
  /** True where no event leaves. */
  readonly first?: boolean;
  /** Until when the incoming side is seen by itself, where that is beyond `to`. */
  readonly until?: Frames;
  readonly listed: Passage | null;
  readonly mask: Mask;
}
