import type { Cdl } from '../edit/model';

/** The CDL that changes nothing. */
export const NEUTRAL_CDL: Cdl = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 };

export const sameThree = (a: readonly number[], b: readonly number[]): boolean => a.every((v, i) => v === b[i]);
export const sameCdl = (a: Cdl, b: Cdl): boolean =>
  sameThree(a.slope, b.slope) && sameThree(a.offset, b.offset) && sameThree(a.power, b.power) && a.saturation === b.saturation;

/** True when the numbers change nothing. */
export function isNeutral(cdl: Cdl): boolean {
  const all = (v: readonly number[], n: number) => v.every((x) => x === n);
  return all(cdl.slope, 1) && all(cdl.offset, 0) && all(cdl.power, 1) && cdl.saturation === 1;
}

/** Rec. 709 luma weights, as ASC CDL 1.2 names them for saturation. */
export const LUMA_709 = [0.2126, 0.7152, 0.0722] as const;

const clamp = (v: number) => Math.min(1, Math.max(0, v));

/**
 * Grades one pixel. In and out are R, G, B with 0 as black and 1 as white; results are clamped to
 * 0..1. Source: ASC CDL 1.2: out = clamp(in x slope + offset) ^ power, then saturation about luma.
 */
export function applyCdl(rgb: readonly [number, number, number], cdl: Cdl): [number, number, number] {
  const graded = rgb.map((v, i) => clamp(v * (cdl.slope[i] ?? 1) + (cdl.offset[i] ?? 0)) ** (cdl.power[i] ?? 1));
  const [r = 0, g = 0, b = 0] = graded;
  const luma = LUMA_709[0] * r + LUMA_709[1] * g + LUMA_709[2] * b;
  const mix = (v: number) => clamp(luma + cdl.saturation * (v - luma));
  return [mix(r), mix(g), mix(b)];
}

/** Slope, offset and power of one channel for every code value of an integer picture, as code values. */
function transferTable(cdl: Cdl, channel: 0 | 1 | 2, levels: number): Float32Array {
  const top = levels - 1;
  const table = new Float32Array(levels);
  for (let code = 0; code < levels; code++)
    table[code] = clamp((code / top) * cdl.slope[channel] + cdl.offset[channel]) ** cdl.power[channel] * top;
  return table;
}

/**
 * A grader for whole pictures of interleaved integer samples: `channels` samples per pixel, R, G, B
 * first; further samples (alpha) are left alone. Works in place. `levels` is 256 or 65536.
 * The tables are made once, so that the hot loop has three look-ups and one mix per pixel; where saturation is not raised the mix lies between
 * the three, and needs no bounds.
 */
export function gradePixels(
  cdl: Cdl,
  levels: 256 | 65536,
): (pixels: Uint8Array | Uint8ClampedArray | Uint16Array, channels: 3 | 4) => void {
  const red = transferTable(cdl, 0, levels);
  const green = transferTable(cdl, 1, levels);
  const blue = transferTable(cdl, 2, levels);
  const top = levels - 1;
  const { saturation } = cdl;
  const [ofRed, ofGreen, ofBlue] = LUMA_709.map((weight) => weight * (1 - saturation)) as [number, number, number];
  if (saturation <= 1)
    return (pixels, channels) => {
      // Of a clamped array a fraction is rounded, of the others it is cut off.
      const half = pixels instanceof Uint8ClampedArray ? 0 : 0.5;
      for (let at = 0, end = pixels.length - 2; at < end; at += channels) {
        const r = red[pixels[at] as number] as number;
        const g = green[pixels[at + 1] as number] as number;
        const b = blue[pixels[at + 2] as number] as number;
        const mixed = ofRed * r + ofGreen * g + ofBlue * b + half;
        pixels[at] = mixed + saturation * r;
        pixels[at + 1] = mixed + saturation * g;
        pixels[at + 2] = mixed + saturation * b;
      }
    };
  const code = (v: number) => (v <= 0 ? 0 : v >= top ? top : (v + 0.5) | 0);
  return (pixels, channels) => {
    for (let at = 0, end = pixels.length - 2; at < end; at += channels) {
      const r = red[pixels[at] as number] as number;
      const g = green[pixels[at + 1] as number] as number;
      const b = blue[pixels[at + 2] as number] as number;
      const mixed = ofRed * r + ofGreen * g + ofBlue * b;
      pixels[at] = code(mixed + saturation * r);
      pixels[at + 1] = code(mixed + saturation * g);
      pixels[at + 2] = code(mixed + saturation * b);
    }
  };
}

/** A grade as people write it in lists: `(1.1 1 0.9)(0 0 0)(1 1 1)` and the saturation. */
export function formatSop(cdl: Cdl): string {
  const triple = (v: readonly number[]) => `(${v.map((n) => formatNumber(n)).join(' ')})`;
  return `${triple(cdl.slope)}${triple(cdl.offset)}${triple(cdl.power)}`;
}

/** Up to six places, no trailing zeros beyond the fourth; what is read back is the same number to 1e-6. */
export function formatNumber(n: number): string {
  const short = n.toFixed(4);
  return Number(short) === n ? short : String(Number(n.toFixed(6)));
}
