/** Steps from black to white in which a spread counts. */
export const SPREAD_STEPS = 64;

/** How the code values of a picture are spread: for red, green and blue, how many pixels fall into each of `SPREAD_STEPS` equal steps. Pixels are R, G, B, A of 8 bits. */
export function spreadOf(pixels: Uint8Array | Uint8ClampedArray): readonly [Uint32Array, Uint32Array, Uint32Array] {
  const spread = [new Uint32Array(SPREAD_STEPS), new Uint32Array(SPREAD_STEPS), new Uint32Array(SPREAD_STEPS)] as const;
  for (let i = 0; i + 3 < pixels.length; i += 4)
    for (const c of [0, 1, 2] as const) (spread[c][((pixels[i + c] as number) * SPREAD_STEPS) >> 8] as number)++;
  return spread;
}
