import type { Lay } from '@gemello/core';
import type { Canvas } from './canvas';

/** A decoded picture at some size: R, G, B, A of 16 bits, colours not multiplied by alpha, rows from the top. */
export interface Pixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
}

/** A lay is taken for whole pixels when it misses them by less than this. */
const WHOLE = 1e-3;

/** The size at which a picture is best taken from its decoder before it is placed: its own, or smaller where it is seen smaller. */
export function sizeFor(lay: Lay, width: number, height: number): { width: number; height: number } {
  const across = Math.hypot(lay.a, lay.b) * width;
  const down = Math.hypot(lay.c, lay.d) * height;
  if (lay.b === 0 && lay.c === 0 && across * down <= width * height * MOST_ENLARGED)
    return { width: atLeastOne(across), height: atLeastOne(down) };
  return { width: atLeastOne(Math.min(width, across)), height: atLeastOne(Math.min(height, down)) };
}

/** Up to this many times its own number of pixels a picture that is not turned is enlarged by the scaler; above it, as it is placed. */
const MOST_ENLARGED = 4;

const atLeastOne = (n: number): number => Math.max(1, Math.round(n));

/**
 * Lays a picture on a canvas. `width` and `height` are the picture's own, in which the lay is given; the pixels may come
 * at any size. Whole pixels are copied; what is turned, enlarged or moved by parts of a pixel is sampled with a
 * Catmull-Rom cubic (bicubic, a = -1/2). Cropped and slanting edges are as soft as a pixel.
 */
export function place(canvas: Canvas, pixels: Pixels, lay: Lay, width: number, height: number, opacity: number): void {
  // From pixels of the delivered size to the canvas.
  const [across, down] = [width / pixels.width, height / pixels.height];
  const m = { a: lay.a * across, b: lay.b * across, c: lay.c * down, d: lay.d * down, e: lay.e, f: lay.f };
  const crop = {
    left: lay.crop.left / across,
    right: lay.crop.right / across,
    top: lay.crop.top / down,
    bottom: lay.crop.bottom / down,
  };
  const uncropped = crop.left <= 0 && crop.top <= 0 && crop.right >= pixels.width && crop.bottom >= pixels.height;
  const upright = m.b === 0 && m.c === 0 && near(Math.abs(m.a), 1) && near(Math.abs(m.d), 1);
  if (upright && uncropped && near(m.e, Math.round(m.e)) && near(m.f, Math.round(m.f))) copy(canvas, pixels, m, opacity);
  else sample(canvas, pixels, m, crop, opacity);
}

const near = (a: number, b: number): boolean => Math.abs(a - b) < WHOLE;

type Matrix = Pick<Lay, 'a' | 'b' | 'c' | 'd' | 'e' | 'f'>;

/** Copies whole pixels, the picture upright or mirrored. */
function copy(canvas: Canvas, { width, height, data }: Pixels, m: Matrix, opacity: number): void {
  const [left, top] = [Math.round(Math.min(m.e, m.e + m.a * width)), Math.round(Math.min(m.f, m.f + m.d * height))];
  const [stepX, stepY] = [m.a < 0 ? -4 : 4, m.d < 0 ? -1 : 1];
  const [from, to] = [Math.max(0, left), Math.min(canvas.width, left + width)];
  for (let y = Math.max(0, top); y < Math.min(canvas.height, top + height); y++) {
    const row = stepY < 0 ? height - 1 - (y - top) : y - top;
    let at = (row * width + (stepX < 0 ? width - 1 - (from - left) : from - left)) * 4;
    for (let target = (y * canvas.width + from) * 4; target < (y * canvas.width + to) * 4; target += 4, at += stepX) {
      const alpha = data[at + 3] as number;
      if (alpha === 65535 && opacity === 1) {
        canvas.data[target] = (data[at] as number) / 65535;
        canvas.data[target + 1] = (data[at + 1] as number) / 65535;
        canvas.data[target + 2] = (data[at + 2] as number) / 65535;
        canvas.data[target + 3] = 1;
      } else put(canvas.data, target, data[at] as number, data[at + 1] as number, data[at + 2] as number, alpha, opacity);
    }
  }
}

/** Lays one pixel (0..65535, colours not multiplied) over what is there. */
function put(to: Float32Array, at: number, r: number, g: number, b: number, alpha: number, opacity: number): void {
  const take = (alpha / 65535) * opacity;
  if (take === 0) return;
  const keep = 1 - take;
  const scale = take / 65535;
  to[at] = (to[at] as number) * keep + r * scale;
  to[at + 1] = (to[at + 1] as number) * keep + g * scale;
  to[at + 2] = (to[at + 2] as number) * keep + b * scale;
  to[at + 3] = (to[at + 3] as number) * keep + take;
}

/** Weights of the four neighbours of a point `t` (0..1) between the second and the third (Catmull-Rom). */
function weights(t: number, into: Float64Array, at: number): void {
  const [t2, t3] = [t * t, t * t * t];
  into[at] = -0.5 * t + t2 - 0.5 * t3;
  into[at + 1] = 1 - 2.5 * t2 + 1.5 * t3;
  into[at + 2] = 0.5 * t + 2 * t2 - 1.5 * t3;
  into[at + 3] = -0.5 * t2 + 0.5 * t3;
}

interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

function sample(canvas: Canvas, pixels: Pixels, m: Matrix, crop: Box, opacity: number): void {
  const determinant = m.a * m.d - m.b * m.c;
  if (Math.abs(determinant) < 1e-9) return;
  const inverse = { a: m.d / determinant, b: -m.b / determinant, c: -m.c / determinant, d: m.a / determinant };
  const box = boundsOf(m, crop, canvas);
  const seen = {
    left: Math.max(0, crop.left),
    top: Math.max(0, crop.top),
    right: Math.min(pixels.width, crop.right),
    bottom: Math.min(pixels.height, crop.bottom),
  };
  // How many canvas pixels one pixel of the picture takes, for edges as soft as a canvas pixel.
  const [wide, high] = [Math.hypot(m.a, m.b), Math.hypot(m.c, m.d)];
  const w = new Float64Array(8);
  const sum = new Float64Array(4);
  for (let y = box.top; y < box.bottom; y++)
    for (let x = box.left; x < box.right; x++) {
      const [dx, dy] = [x + 0.5 - m.e, y + 0.5 - m.f];
      const u = inverse.a * dx + inverse.c * dy;
      const v = inverse.b * dx + inverse.d * dy;
      const edge =
        covered((u - seen.left) * wide) *
        covered((seen.right - u) * wide) *
        covered((v - seen.top) * high) *
        covered((seen.bottom - v) * high);
      if (edge <= 0) continue;
      cubic(pixels, u - 0.5, v - 0.5, w, sum);
      put(canvas.data, (y * canvas.width + x) * 4, sum[0] as number, sum[1] as number, sum[2] as number, sum[3] as number, edge * opacity);
    }
}

/** How much of a pixel lies inside an edge that its middle is `inside` pixels away from. */
const covered = (inside: number): number => (inside >= 0.5 ? 1 : inside <= -0.5 ? 0 : inside + 0.5);

function boundsOf(m: Matrix, crop: Box, canvas: Canvas): Box {
  const corners = [
    [crop.left, crop.top],
    [crop.right, crop.top],
    [crop.left, crop.bottom],
    [crop.right, crop.bottom],
  ] as const;
  const xs = corners.map(([u, v]) => m.a * u + m.c * v + m.e);
  const ys = corners.map(([u, v]) => m.b * u + m.d * v + m.f);
  return {
    left: Math.max(0, Math.floor(Math.min(...xs)) - 1),
    right: Math.min(canvas.width, Math.ceil(Math.max(...xs)) + 1),
    top: Math.max(0, Math.floor(Math.min(...ys)) - 1),
    bottom: Math.min(canvas.height, Math.ceil(Math.max(...ys)) + 1),
  };
}

/** The picture at a point, edges held; `sum` gets R, G, B, A within 0..65535. */
function cubic({ width, height, data }: Pixels, u: number, v: number, w: Float64Array, sum: Float64Array): void {
  const [x0, y0] = [Math.floor(u), Math.floor(v)];
  weights(u - x0, w, 0);
  weights(v - y0, w, 4);
  sum.fill(0);
  for (let j = 0; j < 4; j++) {
    const row = Math.min(height - 1, Math.max(0, y0 - 1 + j)) * width;
    for (let i = 0; i < 4; i++) {
      const weight = (w[i] as number) * (w[4 + j] as number);
      if (weight === 0) continue;
      const at = (row + Math.min(width - 1, Math.max(0, x0 - 1 + i))) * 4;
      for (let c = 0; c < 4; c++) sum[c] = (sum[c] as number) + (data[at + c] as number) * weight;
    }
  }
  for (let c = 0; c < 4; c++) sum[c] = Math.min(65535, Math.max(0, sum[c] as number));
}
