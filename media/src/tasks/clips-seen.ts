import { readdirSync } from 'node:fs';
import path from 'node:path';
import {
  type Burn,
  type ClipCodec,
  FILLING,
  type Frames,
  framesOfClip,
  inDay,
  keepsAlpha,
  type Original,
  RETURN_WORDS,
  type ReturnClip,
  type ReturnProblem,
} from '@gemello/core';
import { type Canvas, type Composition, type Compositor, openCompositor, openSources, toRgb48 } from '../compose';
import { bandOf } from '../engine/burn';
import { probeMovie, probeNumbered } from '../probe';
import type { ClipMade } from './clip-made';
import { compositionAt } from './clips';

/** Pixels across of pictures that are compared. */
const SEEN_ACROSS = 192;
/**
 * How alike what was meant and what was written must be, in dB: they differ by their coding alone. Least measured ungraded over 54 pictures
 * of real footage and 72 of the demo, in this order: 67.1 and 55.6, 49.8 and 55.5, 57.3 and 55.6, 38.6 and 43.6; colour bars under a strong
 * grade, whose edges half the colour samples blur, come to 39.1. A frame aside is below 40 in 35 of those 54; where nothing moves it is as
 * like as the frame itself.
 */
const ALIKE: Record<ClipCodec, number> = {
  ...{ intra: 36, 'intra-light': 36, 'intra-vc3': 36, 'intra-mxf': 36 },
  ...{ dpx: 36, exr: 36, tiff: 36 },
  ...{ review: 32, 'review-hevc': 32 },
};

/** Opens a written clip again, and compares its first, middle and last picture with what was meant; says where an alpha did not go along. */
export function otherPictures(made: ClipMade, written: Original): ReturnProblem[] {
  const { clip, codec, original } = made;
  const { fileName } = clip;
  const height = Math.max(2, Math.round((SEEN_ACROSS * clip.raster.height) / clip.raster.width));
  const last = Math.min(framesOfClip(clip), written.frames) - 1;
  const sources = openSources(2, 0, 'held');
  const compositor: Compositor = openCompositor(sources);
  /** The whole of a clip, as it was written. */
  const asWritten = (n: Frames): Composition => {
    const shot = { ...made.shot, original: written, cdl: null, lut: null };
    const part = { shot: { ...shot, event: { ...shot.event, placement: null } }, layer: 0, sourceFrame: n, pose: FILLING };
    return { parts: [{ ...part, side: 'alone', join: null, share: 1 }], frame: { raster: written.raster, pixelAspect: 1 } };
  };
  let seenThrough = false;
  const drawn = (composition: Composition): Uint16Array | null => {
    const { canvas, drawing } = compositor.draw(composition, SEEN_ACROSS, height);
    if (drawing.missing.length > 0) return null;
    seenThrough ||= sources.alphaOf(original) === true && canvas.data.some((v, i) => i % 4 === 3 && v < OPAQUE);
    return keepsAlpha(codec) ? withAlpha(canvas) : toRgb48(canvas, new Uint16Array(SEEN_ACROSS * height * 3));
  };
  try {
    const others = [...new Set([0, last >> 1, last])].flatMap((n) => {
      const [meant, is] = [drawn(compositionAt(made, n)), drawn(asWritten(n))];
      const seen = rowsSeen(clip.burn, height);
      return meant && is && likeness(seen(meant), seen(is)) >= ALIKE[codec]
        ? []
        : [{ fileName, message: RETURN_WORDS.otherPicture({ frame: n }) }];
    });
    return seenThrough && !keepsAlpha(codec) ? [...others, { fileName, message: RETURN_WORDS.alphaLeft() }] : others;
  } finally {
    compositor.close();
  }
}

/** An alpha from here on hides all that is below. */
const OPAQUE = 0.998;
/** Red, green and blue over black, and the alpha. */
const withAlpha = ({ data }: Canvas): Uint16Array => Uint16Array.from(data, (v) => Math.min(1, Math.max(0, v)) * 65535 + 0.5);

/** The rows of small pictures in which no text is burnt, as values of red, green and blue. */
function rowsSeen(burn: Burn | null, height: number): (pixels: Uint16Array) => Uint16Array {
  if (!burn) return (pixels) => pixels;
  const { top, end } = bandOf(height, { at: burn.burnAt, size: burn.burnSize });
  // One row more: its neighbours reach into it where pictures are made small.
  return (pixels) => (top > 0 ? pixels.subarray(0, (top - 1) * SEEN_ACROSS * 3) : pixels.subarray((end + 1) * SEEN_ACROSS * 3));
}

/** Opens a written clip, a movie or a folder of numbered frames, as a scan would. */
export function probeClip(clip: ReturnClip, place: string): Original {
  if (!clip.within) return probeMovie(place);
  const files = readdirSync(place).sort();
  return probeNumbered(place, {
    stem: `${clip.name}.`,
    extension: path.extname(clip.fileName),
    first: numberOf(clip.fileName),
    files,
    gaps: [],
  });
}

/** The number of a frame in its file's name. */
const numberOf = (fileName: string): Frames => Number(/\.(\d+)\.[^.]+$/.exec(fileName)?.[1] ?? 0);

/**
 * A written clip as it counts where its kind of picture has no place for rate and reel: those are the planned ones, which the list says too,
 * and it starts where its number says.
 */
export function asCarried(found: Original, clip: ReturnClip | undefined): Original {
  if (!clip?.within || !found.warnings.some((w) => w.code === 'rate-unknown')) return found;
  const { rate } = clip;
  const start = inDay(numberOf(found.fileName), rate);
  return { ...found, rate, clock: rate, start, hasTimecode: true, reel: found.reel || clip.reel };
}

/** Peak signal to noise ratio of two pictures of red, green and blue in 16 bits, in dB (ITU-T J.340). */
function likeness(a: Uint16Array, b: Uint16Array): number {
  let square = 0;
  for (let i = 0; i < a.length; i++) square += ((a[i] as number) - (b[i] as number)) ** 2;
  return square === 0 ? Number.POSITIVE_INFINITY : 10 * Math.log10(65_535 ** 2 / (square / a.length));
}
