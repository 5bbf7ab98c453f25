import type { ClipCodec, Conform, Heard, Original, ReturnClip, Shot } from '@gemello/core';

/** A clip of a return, and what it is made of. */
export interface ClipMade {
  readonly clip: ReturnClip;
  readonly original: Original;
  /** The first event that it is for, and the frame of the cut. */
  readonly shot: Shot;
  readonly frame: Conform['frame'];
  readonly recordRate: Conform['rate'];
  readonly codec: ClipCodec;
  /** What is heard with it, where that is not the sound of its original. */
  readonly heard: Heard | null;
}
