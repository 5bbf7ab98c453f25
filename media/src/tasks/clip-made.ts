import type { ClipCodec, Conform, Original, ReferenceLay, ReturnClip, Shot } from '@gemello/core';

/** A clip of a return, and what it is made of. */
export interface ClipMade {
  readonly clip: ReturnClip;
  readonly original: Original;
  /** The first event that it is for, and the frame of the cut. */
  readonly shot: Shot;
  readonly frame: Conform['frame'];
  readonly recordRate: Conform['rate'];
  readonly codec: ClipCodec;
  readonly heard: ReferenceHeard | null;
}

/** The reference as it is heard: how it lies on the cut. */
export interface ReferenceHeard {
  readonly movie: Original;
  readonly lay: ReferenceLay;
}
