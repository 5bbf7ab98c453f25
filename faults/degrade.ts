import { newPlate, numbersFrom, type Plate } from './plates';

/** What references suffer on their way. */
export const DEGRADATIONS = ['clean', 'letterbox', 'grade', 'window', 'grey'] as const;
export type Degradation = (typeof DEGRADATIONS)[number];

/** Leader before the picture, in frames. */
export const LEADER: Readonly<Record<Degradation, number>> = { clean: 0, letterbox: 0, grade: 0, window: 48, grey: 0 };

/** How each is compressed. */
export const CODING: Readonly<Record<Degradation, readonly string[]>> = {
  clean: ['-c:v', 'libx264', '-crf', '16', '-pix_fmt', 'yuv420p'],
  letterbox: ['-c:v', 'libx264', '-crf', '30', '-pix_fmt', 'yuv420p'],
  grade: ['-c:v', 'libx264', '-crf', '24', '-pix_fmt', 'yuv420p'],
  window: ['-c:v', 'libx264', '-crf', '26', '-pix_fmt', 'yuv420p'],
  grey: ['-c:v', 'mpeg4', '-q:v', '9', '-pix_fmt', 'yuv420p'],
};

/** The picture of record frame n as the reference has it. */
export function degraded(plate: Plate, n: number, how: Degradation): Plate {
  switch (how) {
    case 'clean':
      return resized(plate, 480, 270);
    case 'letterbox': {
      const out = resized(plate, 320, 180);
      for (let y = 0; y < 180; y++) if (y < 22 || y >= 158) out.data.fill(16, y * 320, (y + 1) * 320);
      stamp(out, n, 20, 164);
      return out;
    }
    case 'grade': {
      const out = resized(plate, 384, 216);
      const random = numbersFrom(n + 11);
      for (let i = 0; i < out.data.length; i++) {
        const v = (out.data[i] as number) / 255;
        out.data[i] = Math.max(0, Math.min(255, 18 + 215 * v ** 1.35 * 0.82 + (random() - 0.5) * 14));
      }
      stamp(out, 424_242, 150, 100, 0.35);
      return out;
    }
    case 'window': {
      // The picture small inside a frame of another shape.
      const out = newPlate(400, 300, 16);
      const inner = resized(plate, 320, 180);
      for (let y = 0; y < 180; y++) out.data.set(inner.data.subarray(y * 320, (y + 1) * 320), (y + 42) * 400 + 52);
      stamp(out, n, 60, 250);
      return out;
    }
    case 'grey': {
      const out = resized(plate, 240, 136);
      for (let i = 0; i < out.data.length; i++) out.data[i] = 40 + (out.data[i] as number) * 0.6;
      return out;
    }
  }
}

/** Leader: a slate that counts. */
export function leader(n: number, how: Degradation): Plate {
  const black = degraded(newPlate(480, 270, 0), n, how);
  stamp(black, n, Math.round(black.width / 2) - 20, Math.round(black.height / 2));
  return black;
}

/** What goes into each point of a side that is made smaller: input points and weights, by samples between two of them each. */
const sides = new Map<string, { first: Int32Array; weights: Float64Array; count: number }>();

function sideOf(input: number, output: number): { first: Int32Array; weights: Float64Array; count: number } {
  const key = `${input} ${output}`;
  const known = sides.get(key);
  if (known) return known;
  const step = input / output;
  const taps = Math.max(1, Math.ceil(step) + 1);
  const count = Math.ceil(step) + 3;
  const first = Int32Array.from({ length: output }, (_, i) => Math.max(0, Math.min(input - count, Math.floor(i * step) - 1)));
  const weights = new Float64Array(output * count);
  for (let i = 0; i < output; i++)
    for (let k = 0; k < taps; k++) {
      const at = Math.max(0, Math.min(input - 1, (i + (k + 0.5) / taps) * step - 0.5));
      const from = Math.min(input - 2, Math.floor(at));
      const into = i * count + from - (first[i] as number);
      weights[into] = (weights[into] as number) + (1 - (at - from)) / taps;
      weights[into + 1] = (weights[into + 1] as number) + (at - from) / taps;
    }
  const made = { first, weights, count };
  sides.set(key, made);
  return made;
}

/** Smaller by areas: each pixel is the mean of what it covers. */
function resized(plate: Plate, width: number, height: number): Plate {
  const out = newPlate(width, height);
  if (width === plate.width && height === plate.height) {
    out.data.set(plate.data);
    return out;
  }
  const [across, down] = [sideOf(plate.width, width), sideOf(plate.height, height)];
  const narrow = new Float64Array(width * plate.height);
  const { data } = plate;
  for (let y = 0; y < plate.height; y++)
    for (let x = 0; x < width; x++) {
      const from = y * plate.width + (across.first[x] as number);
      let sum = 0;
      for (let k = 0, w = x * across.count; k < across.count; k++, w++) sum += (data[from + k] as number) * (across.weights[w] as number);
      narrow[y * width + x] = sum;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0.5;
      for (let k = 0, w = y * down.count, at = (down.first[y] as number) * width + x; k < down.count; k++, w++, at += width)
        sum += (narrow[at] as number) * (down.weights[w] as number);
      out.data[y * width + x] = sum;
    }
  return out;
}

const DIGITS = ['757757', '262627', '717747', '717317', '557111', '747117', '447757', '711244', '757575', '757117'];

/** Prints a number, six digits, four by six blocks each. */
function stamp(plate: Plate, n: number, left: number, top: number, opacity = 1): void {
  const text = String(n).padStart(6, '0');
  [...text].forEach((digit, d) => {
    const rows = DIGITS[Number(digit)] as string;
    for (let r = 0; r < 6; r++)
      for (let c = 0; c < 3; c++)
        if ((Number(rows[r]) >> (2 - c)) & 1)
          for (let j = 0; j < 2; j++)
            for (let i = 0; i < 2; i++) {
              const at = (top + r * 2 + j) * plate.width + left + d * 8 + c * 2 + i;
              if (at < plate.data.length) plate.data[at] = (plate.data[at] as number) * (1 - opacity) + 235 * opacity;
            }
  });
}
