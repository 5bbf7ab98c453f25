import { createRequire } from 'node:module';
import { createCanvas, GlobalFonts } from '@napi-rs/canvas';
import { LRUCache } from 'lru-cache';
import { type Canvas, paint } from './canvas';

const FAMILY = 'Stand-in Sans';
GlobalFonts.registerFromPath(
  createRequire(import.meta.url).resolve('@fontsource/ibm-plex-sans/files/ibm-plex-sans-latin-400-normal.woff2'),
  FAMILY,
);

/** A part of the frame, in shares of its width and height. */
export interface CoveredArea {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

interface Text {
  readonly mask: Float32Array;
  readonly area: CoveredArea;
}

/** Texts as they were drawn, with how strong each pixel is; a title stays for many frames. */
const drawn = new LRUCache<string, Text>({ max: 16 });

/** Height of a line over that of the frame. */
const LINE = 0.07;
const MOST_LINES = 6;
const DARK = [0.09, 0.09, 0.09] as const;
const LIGHT = [0.92, 0.92, 0.92] as const;

/** Draws a text plainly, in the middle of the frame, over what is there. Returns the part of the frame it covers. */
export function drawText(canvas: Canvas, text: string, opacity = 1): CoveredArea {
  const found = laidOut(text, canvas.width, canvas.height);
  paint(canvas, LIGHT, opacity === 1 ? found.mask : found.mask.map((m) => m * opacity));
  return found.area;
}

function laidOut(text: string, width: number, height: number): Text {
  const key = `${width}x${height}\n${text}`;
  const found = drawn.get(key) ?? textOf(text, width, height);
  drawn.set(key, found);
  return found;
}

/** The part of a frame that a title's text covers when it is drawn. A list does not say where the editor's own lies; the middle is usual. */
export const titleArea = (text: string, width: number, height: number): CoveredArea => laidOut(text, width, height).area;

/** A dark field with a text, for what has no picture of its own. */
export function drawSlate(canvas: Canvas, text: string): void {
  paint(canvas, DARK, null);
  drawText(canvas, text);
}

function textOf(text: string, width: number, height: number): Text {
  const surface = createCanvas(width, height);
  const ctx = surface.getContext('2d');
  const size = Math.max(6, Math.round(height * LINE));
  ctx.font = `${size}px "${FAMILY}"`;
  ctx.textAlign = 'center';
  ctx.textBaseline = 'middle';
  ctx.fillStyle = '#fff';
  const lines = broken(text, (t) => ctx.measureText(t).width <= width * 0.9);
  const widest = Math.max(1, ...lines.map((l) => ctx.measureText(l).width));
  const top = height / 2 - ((lines.length - 1) * size * 1.2) / 2;
  lines.forEach((line, i) => {
    ctx.fillText(line, width / 2, top + i * size * 1.2);
  });
  const { data } = ctx.getImageData(0, 0, width, height);
  const mask = Float32Array.from({ length: width * height }, (_, i) => (data[i * 4 + 3] as number) / 255);
  const [half, tall] = [widest / width / 2, (lines.length * size * 1.2) / height / 2];
  return { mask, area: { left: 0.5 - half, right: 0.5 + half, top: 0.5 - tall, bottom: 0.5 + tall } };
}

/** A text in lines that fit, broken between words. */
function broken(text: string, fits: (line: string) => boolean): string[] {
  const lines: string[] = [];
  for (const word of text.trim().split(/\s+/)) {
    const longer = lines.length === 0 ? word : `${lines.at(-1)} ${word}`;
    if (lines.length > 0 && fits(longer)) lines[lines.length - 1] = longer;
    else lines.push(word);
  }
  return lines.slice(0, MOST_LINES);
}

/** White, yellow, cyan, green, magenta, red, blue, black at 75 % (colour bars of ITU-R BT.1729 lineage; from memory). */
const BARS = [
  [0.75, 0.75, 0.75],
  [0.75, 0.75, 0],
  [0, 0.75, 0.75],
  [0, 0.75, 0],
  [0.75, 0, 0.75],
  [0.75, 0, 0],
  [0, 0, 0.75],
  [0, 0, 0],
] as const;

/** Draws colour bars over the whole frame. */
export function drawBars({ width, data }: Canvas, opacity = 1): void {
  const keep = 1 - opacity;
  for (let i = 0, p = 0; i < data.length; i += 4, p++) {
    const bar = BARS[Math.floor(((p % width) * BARS.length) / width)] as (typeof BARS)[number];
    for (let c = 0; c < 4; c++) data[i + c] = (data[i + c] as number) * keep + (bar[c] ?? 1) * opacity;
  }
}
