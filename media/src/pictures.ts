import { type Cdl, type Frames, hasFrame, type Original, wholePart } from '@gemello/core';
import { type Composition, type Compositor, type Drawing, frameOfClip, openCompositor, openSources, toRgb24 } from './compose';

/** Packed 8-bit R, G, B, rows from the top. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly pixels: Uint8Array;
}

/** Height that keeps the proportions of a frame, as it is shown, at a width; even numbers only. */
export const heightFor = (width: number, raster: { width: number; height: number }, pixelAspect = 1): number =>
  Math.max(2, Math.round((width * raster.height) / (raster.width * pixelAspect) / 2) * 2);

/** Pictures as they were scaled, ungraded, for going back and forth; at most this many bytes on a thread. */
const KEPT_BYTES = 96 * 1024 * 1024;

let compositor: Compositor | null = null;

/** A picture for a screen. Readers stay open on this thread for the clips looked at last. */
export function drawPicture(composition: Composition, width: number, height: number): { picture: Picture; drawing: Drawing } {
  compositor ??= openCompositor(openSources(1, KEPT_BYTES, 'missing', true));
  const { canvas, drawing } = compositor.draw(composition, width, height);
  return { picture: { width, height, pixels: toRgb24(canvas) }, drawing };
}

/**
 * Exactly frame `number` (from 0) of a clip, at a raster, graded when a CDL is given. Null when the
 * clip has no such frame. Correct at any frame of long-GOP and intra files alike.
 */
export function grabPicture(clip: Original, number: Frames, width: number, height: number, cdl: Cdl | null = null): Picture | null {
  if (!hasFrame(clip, number)) return null;
  const { picture, drawing } = drawPicture({ parts: [wholePart(clip, number, cdl)], frame: frameOfClip(clip) }, width, height);
  return drawing.missing.length > 0 ? null : picture;
}

/** Closes every clip that was kept open, and lets go of kept pictures. */
export function closePictures(): void {
  compositor?.close();
  compositor = null;
}
