import type { Raster } from '../edit';

/** Columns and levels of a waveform, and points along a side of a vectorscope. */
export const WAVE = { columns: 240, levels: 128 } as const;
export const PLANE = 128;

/** Rec. 709 luma (ITU-R BT.709). */
const LUMA = [0.2126, 0.7152, 0.0722] as const;
/** What Cb and Cr are divided by: 2 (1 - 0.0722) and 2 (1 - 0.2126). */
const [CB, CR] = [1.8556, 1.5748] as const;

/** How the levels of a picture lie. Each holds how many pixels fall onto a point. */
export interface Levels {
  /** Luma, red, green, blue: `columns` from the left by `levels` from black (0) to white, column after column. */
  readonly waves: readonly [Uint32Array, Uint32Array, Uint32Array, Uint32Array];
  /** Cb (to the right) by Cr (upwards), each from -1/2 to 1/2: `PLANE` by `PLANE`, rows from the top. */
  readonly plane: Uint32Array;
}

/** Reads the levels of a picture of R, G, B, A at 8 bits, as they are coded. */
export function levelsOf(pixels: Uint8Array, { width, height }: Raster): Levels {
  const wave = () => new Uint32Array(WAVE.columns * WAVE.levels);
  const [luma, red, green, blue] = [wave(), wave(), wave(), wave()];
  const plane = new Uint32Array(PLANE * PLANE);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p += 4) {
      const column = Math.floor((x * WAVE.columns) / width) * WAVE.levels;
      const [r, g, b] = [pixels[p] as number, pixels[p + 1] as number, pixels[p + 2] as number];
      const l = LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;
      (luma[column + heightOf(l)] as number)++;
      (red[column + heightOf(r)] as number)++;
      (green[column + heightOf(g)] as number)++;
      (blue[column + heightOf(b)] as number)++;
      (plane[placeOf(-(r - l) / 255 / CR) * PLANE + placeOf((b - l) / 255 / CB)] as number)++;
    }
  return { waves: [luma, red, green, blue], plane };
}

const heightOf = (v: number): number => Math.min(WAVE.levels - 1, (v * WAVE.levels) >> 8);
const placeOf = (c: number): number => Math.max(0, Math.min(PLANE - 1, Math.floor((c + 0.5) * PLANE)));

/** Where a colour (R, G, B, each 0..1) stands on the plane, from -1/2 to 1/2: Cb, Cr (ITU-R BT.709). */
export function chromaOf([r, g, b]: readonly [number, number, number]): readonly [number, number] {
  const l = LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;
  return [(b - l) / CB, (r - l) / CR];
}
