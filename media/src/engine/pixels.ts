import type { Raster } from '@gemello/core';
import type { AVPixelFormat } from 'node-av/constants';
import { Frame } from 'node-av/lib';
import { must } from './av';

/** Packed pixels as a picture. */
export interface PixelFrame {
  /** The picture belongs to this and is overwritten by the next call. */
  of(pixels: Uint8Array, format: AVPixelFormat): Frame;
  free(): void;
}

/** One frame is filled again and again: frames that come and go beside other large pieces of memory leave holes that nothing fits into. */
export function makePixelFrame({ width, height }: Raster): PixelFrame {
  let held: Frame | null = null;
  return {
    of(pixels, format) {
      const bytes = Buffer.from(pixels.buffer, pixels.byteOffset, pixels.byteLength);
      if (held?.format !== format) {
        held?.free();
        held = Frame.fromVideoBuffer(bytes, { width, height, format });
      } else must(held.fromBuffer(bytes), 'Cannot hold a picture');
      return held;
    },
    free: () => held?.free(),
  };
}
