import { createRequire } from 'node:module';
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

/** Height of the band of text over that of the picture, and the least it may have in pixels. */
const BAND = 0.06;
const LEAST = 12;
/** What the band leaves of the picture below it. */
const SHADE = 0.35;
const DIGITS = '0123456789:;';

/** Draws the clip's name and a timecode into packed 8-bit RGB pictures of one raster. */
export type BurnIn = (pixels: Uint8Array, timecode: string) => void;

/**
 * Makes the burn-in: a dark band at the foot of the picture, the name at its left, the timecode at its
 * right. A name that would meet the timecode is cut at its end. The digits are drawn once.
 */
export function makeBurnIn(width: number, height: number, name: string): BurnIn {
  const band = Math.min(height, Math.max(LEAST, Math.round(height * BAND)));
  const size = Math.max(8, Math.round(band * 0.72));
  const margin = Math.round(band / 3);
  const digits = new Map([...DIGITS].map((d) => [d, drawn(d, size, band)]));
  const advance = digits.get('0')?.width ?? 0;
  // 11 places at most: hours, minutes, seconds, frames of two or three digits.
  const room = Math.max(0, width - 3 * margin - 12 * advance);
  const label = drawn(name.slice(0, Math.max(0, Math.floor(room / advance))), size, band);
  const top = height - band;
  return (pixels, timecode) => {
    for (let at = top * width * 3; at < pixels.length; at++) pixels[at] = (pixels[at] as number) * SHADE;
    lay(pixels, width, label, margin, top);
    let x = width - margin - timecode.length * advance;
    for (const digit of timecode) {
      const mask = digits.get(digit);
      if (mask) lay(pixels, width, mask, x, top);
      x += advance;
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
