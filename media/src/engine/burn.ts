import { createRequire } from 'node:module';
import { type BURN_PLACES, BURN_SIZES, type BurnSize } from '@gemello/core';
import { createCanvas, GlobalFonts } from '@napi-rs/canvas';

const FAMILY = 'Burn-in Mono';
GlobalFonts.registerFromPath(
  createRequire(import.meta.url).resolve('@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-500-normal.woff2'),
  FAMILY,
);

/** How strong a text is at each of its pixels, 0..255, rows from the top. */
interface Mask {
  readonly width: number;
  readonly height: number;
  readonly alpha: Uint8Array;
}

/** The least height of the band of text, in pixels. */
const LEAST = 12;
/** What the band leaves of the picture below it. */
const SHADE = 0.35;

/** Where the band lies, and how high it is over the height of the picture. */
export interface BurnPlace {
  readonly at: (typeof BURN_PLACES)[number];
  readonly size: BurnSize;
}
export const USUAL_BURN: BurnPlace = { at: 'foot', size: 'usual' };

/** Rows of the band in a picture so high; half-open. */
export function bandOf(height: number, { at, size }: BurnPlace): { top: number; end: number } {
  const band = Math.min(height, Math.max(LEAST, Math.round(height * BURN_SIZES[size])));
  return at === 'foot' ? { top: height - band, end: height } : { top: 0, end: band };
}

/** Draws text at the left and at the right of the band into packed 8-bit RGB pictures of one raster. */
export type BurnIn = (pixels: Uint8Array, left: string, right: string) => void;

/**
 * Makes the burn-in: a dark band at the foot or head of the picture with text in it. What would meet the text at the right, or leave the
 * picture, is cut at its end. Each letter is drawn once.
 */
export function makeBurnIn(width: number, height: number, place: BurnPlace): BurnIn {
  const { top, end } = bandOf(height, place);
  const band = end - top;
  const size = Math.max(8, Math.round(band * 0.72));
  const margin = Math.round(band / 3);
  const letters = new Map<string, Mask>();
  const letter = (text: string): Mask => {
    const known = letters.get(text) ?? drawn(text, size, band);
    letters.set(text, known);
    return known;
  };
  const masks = (text: string) => [...text].map(letter);
  const across = (all: readonly Mask[]) => all.reduce((sum, m) => sum + m.width, 0);
  return (pixels, left, right) => {
    for (let at = top * width * 3; at < end * width * 3; at++) pixels[at] = (pixels[at] as number) * SHADE;
    const atRight = masks(right);
    let x = width - margin - across(atRight);
    const room = right === '' ? width - margin : x - margin;
    for (const mask of atRight) {
      lay(pixels, width, mask, x, top);
      x += mask.width;
    }
    x = margin;
    for (const mask of masks(left)) {
      if (x + mask.width > room) return;
      lay(pixels, width, mask, x, top);
      x += mask.width;
    }
  };
}

/** A text as a mask of the band's height. */
function drawn(text: string, size: number, height: number): Mask {
  const measure = createCanvas(1, 1).getContext('2d');
  measure.font = `${size}px "${FAMILY}"`;
  const width = Math.max(1, Math.ceil(measure.measureText(text).width));
  const ctx = createCanvas(width, height).getContext('2d');
  ctx.font = measure.font;
  ctx.textBaseline = 'middle';
  ctx.fillStyle = '#fff';
  ctx.fillText(text, 0, height / 2);
  const { data } = ctx.getImageData(0, 0, width, height);
  return { width, height, alpha: Uint8Array.from({ length: width * height }, (_, i) => data[i * 4 + 3] as number) };
}

/** Lays a mask in white over packed RGB pixels; what stands out of the picture is left out. */
function lay(pixels: Uint8Array, stride: number, mask: Mask, left: number, top: number): void {
  for (let y = 0; y < mask.height; y++)
    for (let x = 0; x < mask.width; x++) {
      const alpha = mask.alpha[y * mask.width + x] as number;
      if (alpha === 0 || left + x < 0 || left + x >= stride) continue;
      const at = ((top + y) * stride + left + x) * 3;
      for (let c = 0; c < 3; c++) pixels[at + c] = ((pixels[at + c] as number) * (255 - alpha) + 235 * alpha) / 255;
    }
}
