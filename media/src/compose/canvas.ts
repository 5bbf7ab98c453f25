/**
 * A picture that is being put together: R, G, B, A for each pixel, rows from the top, 0..1, colours multiplied by
 * alpha. Floating point, so that nothing is lost of pictures with ten bits and more.
 */
export interface Canvas {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

export const newCanvas = (width: number, height: number): Canvas => ({ width, height, data: new Float32Array(width * height * 4) });

/** Makes a canvas empty: nothing is seen of it. */
export const clear = (canvas: Canvas): void => {
  canvas.data.fill(0);
};

/** Lays one canvas over another of its size. */
export function layOver(below: Canvas, above: Canvas): void {
  const [to, from] = [below.data, above.data];
  for (let i = 0; i < to.length; i += 4) {
    const keep = 1 - (from[i + 3] as number);
    if (keep === 1) continue;
    to[i] = (from[i] as number) + (to[i] as number) * keep;
    to[i + 1] = (from[i + 1] as number) + (to[i + 1] as number) * keep;
    to[i + 2] = (from[i + 2] as number) + (to[i + 2] as number) * keep;
    to[i + 3] = (from[i + 3] as number) + (to[i + 3] as number) * keep;
  }
}

/** Mixes two canvases of one size into the first: `share` of the second, 0..1, the same everywhere or pixel by pixel. */
export function mixInto(first: Canvas, second: Canvas, share: number | Float32Array): void {
  const [to, from] = [first.data, second.data];
  for (let i = 0, p = 0; i < to.length; i += 4, p++) {
    const take = typeof share === 'number' ? share : (share[p] as number);
    const keep = 1 - take;
    to[i] = (to[i] as number) * keep + (from[i] as number) * take;
    to[i + 1] = (to[i + 1] as number) * keep + (from[i + 1] as number) * take;
    to[i + 2] = (to[i + 2] as number) * keep + (from[i + 2] as number) * take;
    to[i + 3] = (to[i + 3] as number) * keep + (from[i + 3] as number) * take;
  }
}

/** Paints a colour (0..1) as strongly as a mask says, 0..1 a pixel; null paints all of it. */
export function paint(canvas: Canvas, colour: readonly [number, number, number], mask: Float32Array | null): void {
  const { data } = canvas;
  const [r, g, b] = colour;
  for (let i = 0, p = 0; i < data.length; i += 4, p++) {
    const take = mask === null ? 1 : (mask[p] as number);
    if (take === 0) continue;
    const keep = 1 - take;
    data[i] = (data[i] as number) * keep + r * take;
    data[i + 1] = (data[i + 1] as number) * keep + g * take;
    data[i + 2] = (data[i + 2] as number) * keep + b * take;
    data[i + 3] = (data[i + 3] as number) * keep + take;
  }
}

/** The canvas over black as packed R, G, B of 16 bits. */
export function toRgb48({ data }: Canvas, into = new Uint16Array((data.length / 4) * 3)): Uint16Array {
  for (let i = 0, o = 0; i < data.length; i += 4, o += 3) {
    into[o] = code((data[i] as number) * 65535);
    into[o + 1] = code((data[i + 1] as number) * 65535);
    into[o + 2] = code((data[i + 2] as number) * 65535);
  }
  return into;
}

/** The canvas as packed R, G, B, A of 16 bits, colours not multiplied by their alpha. */
export function toRgba64({ data }: Canvas, into = new Uint16Array(data.length)): Uint16Array {
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3] as number;
    const full = alpha > 0 ? 65535 / alpha : 0;
    into[i] = code((data[i] as number) * full);
    into[i + 1] = code((data[i + 1] as number) * full);
    into[i + 2] = code((data[i + 2] as number) * full);
    into[i + 3] = code(alpha * 65535);
  }
  return into;
}

/** The canvas over black as packed R, G, B of 8 bits. */
export function toRgb24({ data }: Canvas, into = new Uint8Array((data.length / 4) * 3)): Uint8Array {
  for (let i = 0, o = 0; i < data.length; i += 4, o += 3) {
    into[o] = (data[i] as number) * 255 + 0.5;
    into[o + 1] = (data[i + 1] as number) * 255 + 0.5;
    into[o + 2] = (data[i + 2] as number) * 255 + 0.5;
  }
  return into;
}

const code = (v: number): number => (v <= 0 ? 0 : v >= 65535 ? 65535 : v + 0.5);

/** The canvas over black as luma (Rec. 709), 8 bits. */
export function toLuma({ data }: Canvas, into: Uint8Array): Uint8Array {
  for (let i = 0, o = 0; i < data.length; i += 4, o++)
    into[o] = (0.2126 * (data[i] as number) + 0.7152 * (data[i + 1] as number) + 0.0722 * (data[i + 2] as number)) * 255 + 0.5;
  return into;
}
