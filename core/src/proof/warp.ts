import { agreement, comparable, GRID, GRID_SIZE, type Luma, type Mask, wholeMask } from './pictures';
import { solution } from './solution';

/**
 * How a picture is laid anew into the frame: flipped, scaled, turned about its centre, then moved. x and y are how far the
 * centre moved, in shares of width and height, right and down positive; rotation in degrees, clockwise.
 */
export interface Laid {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
  readonly rotation: number;
  readonly flip: '' | 'horizontal' | 'vertical';
}

export const AS_IT_IS: Laid = { scale: 1, x: 0, y: 0, rotation: 0, flip: '' };

/** True where nothing is laid anew. */
export const isAsItIs = ({ scale, x, y, rotation, flip }: Laid): boolean =>
  scale === 1 && x === 0 && y === 0 && rotation === 0 && flip === '';

/** The picture laid anew; black where it does not reach. */
export function warped(luma: Luma, laid: Laid): Luma {
  if (isAsItIs(laid)) return luma;
  const { width, height } = GRID;
  const out = new Float32Array(GRID_SIZE);
  const angle = (-laid.rotation * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle) / laid.scale, Math.sin(angle) / laid.scale];
  const [fx, fy] = [laid.flip === 'horizontal' ? -1 : 1, laid.flip === 'vertical' ? -1 : 1];
  const [cx, cy] = [width / 2 + laid.x * width, height / 2 + laid.y * height];
  for (let row = 0, at = 0; row < height; row++)
    for (let column = 0; column < width; column++, at++) {
      const [u, v] = [column + 0.5 - cx, row + 0.5 - cy];
      const px = fx * (u * cos - v * sin) + width / 2 - 0.5;
      const py = fy * (u * sin + v * cos) + height / 2 - 0.5;
      if (px < -0.5 || py < -0.5 || px > width - 0.5 || py > height - 0.5) continue;
      const x0 = Math.min(width - 2, Math.max(0, Math.floor(px)));
      const y0 = Math.min(height - 2, Math.max(0, Math.floor(py)));
      const [gx, gy] = [Math.min(1, Math.max(0, px - x0)), Math.min(1, Math.max(0, py - y0))];
      const p = y0 * width + x0;
      const top = (luma[p] as number) * (1 - gx) + (luma[p + 1] as number) * gx;
      const bottom = (luma[p + width] as number) * (1 - gx) + (luma[p + width + 1] as number) * gx;
      out[at] = top * (1 - gy) + bottom * gy;
    }
  return out;
}

/** A picture of the reference and the one that should stand there. */
export interface Match {
  readonly reference: Luma;
  readonly source: Luma;
}

/** Mean agreement of some matches, the sources laid anew. */
export function agreementLaid(matches: readonly Match[], laid: Laid, mask: Mask): number {
  let sum = 0;
  for (const { reference, source } of matches) sum += agreement(comparable(reference, mask), comparable(warped(source, laid), mask));
  return sum / matches.length;
}

/** Rounds of refinement, and the step below which a round is the last: a twentieth of a point. */
const ROUNDS = 8;
const ENOUGH = 0.05;

/**
 * Refines how sources are laid, by least squares over all matches at once (Gauss and Newton; Lucas and Kanade for pictures):
 * scale, rotation and both shifts, from gradients of the comparable pictures.
 */
export function refined(matches: readonly Match[], from: Laid, mask: Mask): Laid {
  const { width, height } = GRID;
  const references = matches.map((m) => comparable(m.reference, mask));
  let laid = from;
  let best = { laid, score: Number.NEGATIVE_INFINITY };
  for (let round = 0; round <= ROUNDS; round++) {
    const a = new Float64Array(16);
    const b = new Float64Array(4);
    let score = 0;
    matches.forEach(({ source }, i) => {
      const reference = references[i] as Float32Array;
      const picture = comparable(warped(source, laid), mask);
      score += agreement(reference, picture);
      const [cx, cy] = [width / 2 + laid.x * width - 0.5, height / 2 + laid.y * height - 0.5];
      for (let y = 1; y < height - 1; y++)
        for (let x = 1; x < width - 1; x++) {
          const at = y * width + x;
          if (!mask[at] || !mask[at - 1] || !mask[at + 1] || !mask[at - width] || !mask[at + width]) continue;
          const gx = ((picture[at + 1] as number) - (picture[at - 1] as number)) / 2;
          const gy = ((picture[at + width] as number) - (picture[at - width] as number)) / 2;
          const [u, v] = [x - cx, y - cy];
          // What a small change of scale, angle and place does to the picture at this point.
          const j0 = -(gx * u + gy * v);
          const j1 = -(gy * u - gx * v);
          const error = (reference[at] as number) - (picture[at] as number);
          a[0] = (a[0] as number) + j0 * j0;
          a[1] = (a[1] as number) + j0 * j1;
          a[2] = (a[2] as number) - j0 * gx;
          a[3] = (a[3] as number) - j0 * gy;
          a[5] = (a[5] as number) + j1 * j1;
          a[6] = (a[6] as number) - j1 * gx;
          a[7] = (a[7] as number) - j1 * gy;
          a[10] = (a[10] as number) + gx * gx;
          a[11] = (a[11] as number) + gx * gy;
          a[15] = (a[15] as number) + gy * gy;
          b[0] = (b[0] as number) + j0 * error;
          b[1] = (b[1] as number) + j1 * error;
          b[2] = (b[2] as number) - gx * error;
          b[3] = (b[3] as number) - gy * error;
        }
    });
    if (score > best.score) best = { laid, score };
    if (round === ROUNDS) break;
    const step = solved(a, b);
    if (!step) break;
    const [ds, turn, dx, dy] = step as [number, number, number, number];
    laid = {
      ...laid,
      scale: Math.min(4, Math.max(0.2, laid.scale * (1 + Math.max(-0.1, Math.min(0.1, ds))))),
      rotation: laid.rotation + (Math.max(-0.1, Math.min(0.1, turn)) * 180) / Math.PI,
      x: laid.x + Math.max(-3, Math.min(3, dx)) / width,
      y: laid.y + Math.max(-3, Math.min(3, dy)) / height,
    };
    if (Math.abs(dx) < ENOUGH && Math.abs(dy) < ENOUGH && Math.abs(ds) * width < ENOUGH && Math.abs(turn) * width < ENOUGH && round > 1) {
      const last = agreementLaid(matches, laid, mask) * matches.length;
      if (last > best.score) best = { laid, score: last };
      break;
    }
  }
  return best.laid;
}

/** How sources would have to be stretched about the middle and moved to lie as the references do. x and y are shares of width and height. */
export interface Stretch {
  readonly wider: number;
  readonly taller: number;
  readonly x: number;
  readonly y: number;
}

/** One step of least squares over all matches at once towards how sources are stretched and moved; null where they say nothing. */
export function stretchOf(matches: readonly Match[], mask: Mask): Stretch | null {
  const { width, height } = GRID;
  const [a, b] = [new Float64Array(16), new Float64Array(4)];
  const by = new Float64Array(4);
  for (const match of matches) {
    const [reference, picture] = [comparable(match.reference, mask), comparable(match.source, mask)];
    for (let y = 1; y < height - 1; y++)
      for (let x = 1; x < width - 1; x++) {
        const at = y * width + x;
        if (!mask[at] || !mask[at - 1] || !mask[at + 1] || !mask[at - width] || !mask[at + width]) continue;
        by[2] = -((picture[at + 1] as number) - (picture[at - 1] as number)) / 2;
        by[3] = -((picture[at + width] as number) - (picture[at - width] as number)) / 2;
        by[0] = (by[2] as number) * (x - width / 2 + 0.5);
        by[1] = (by[3] as number) * (y - height / 2 + 0.5);
        const error = (reference[at] as number) - (picture[at] as number);
        for (let i = 0; i < 4; i++) {
          const part = by[i] as number;
          b[i] = (b[i] as number) + part * error;
          for (let j = i; j < 4; j++) a[i * 4 + j] = (a[i * 4 + j] as number) + part * (by[j] as number);
        }
      }
  }
  const step = solved(a, b);
  if (!step) return null;
  const [across, down, dx, dy] = step as [number, number, number, number];
  return { wider: 1 + across, taller: 1 + down, x: dx / width, y: dy / height };
}

/** Solves four equations of which the upper half of the symmetric matrix is given; null where they say nothing. */
const solved = (upper: Float64Array, right: Float64Array): number[] | null =>
  solution(
    Array.from({ length: 4 }, (_, i) =>
      Float64Array.from({ length: 5 }, (__, j) => (j === 4 ? right[i] : upper[Math.min(i, j) * 4 + Math.max(i, j)]) as number),
    ),
  );

/** Scales, in steps of 6 %, and rotations in degrees, at which a picture is looked for. */
const SCALES = Array.from({ length: 29 }, (_, i) => 0.45 * 1.06 ** i);
const ROTATIONS: readonly number[] = [-3, 3, -6, 6, -9, 9];

const WHOLE = wholeMask();

/** The size that correlations are reckoned at: a power of two each way that holds half the grid. */
const WIDE = 64;
const HIGH = 32;

/**
 * Looks for a picture in a frame of the reference at any place, at scales from 0.45 to 2.3, level or where it is
 * `turned` by up to 9 degrees either way, as it is or flipped. All places are tried at once by way of the Fourier transform. The
 * best few, best first, to be refined.
 */
export function placesOf(match: Match, flips: readonly Laid['flip'][], mask: Mask, most = 4, turned = false): Laid[] {
  const target = halved(comparable(match.reference, mask));
  transform(target, false);
  const found: { laid: Laid; score: number }[] = [];
  const attempt = (flip: Laid['flip'], scale: number, rotation: number) => {
    const laid: Laid = { scale, x: 0, y: 0, rotation, flip };
    const picture = halved(comparable(warped(match.source, laid), WHOLE));
    transform(picture, false);
    multiply(picture, target);
    transform(picture, true);
    const { at, value } = peak(picture.re);
    const dx = (((at % WIDE) + WIDE / 2) % WIDE) - WIDE / 2;
    const dy = ((Math.floor(at / WIDE) + HIGH / 2) % HIGH) - HIGH / 2;
    found.push({ laid: { ...laid, x: (2 * dx) / GRID.width, y: (2 * dy) / GRID.height }, score: value });
  };
  for (const flip of flips) for (const scale of SCALES) for (const rotation of turned ? ROTATIONS : [0]) attempt(flip, scale, rotation);
  return found
    .sort((a, b) => b.score - a.score)
    .slice(0, most)
    .map((f) => f.laid);
}

interface Complex {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** A comparable picture at half size, in the upper left of a field of zeros. */
function halved(picture: Float32Array): Complex {
  const re = new Float64Array(WIDE * HIGH);
  for (let y = 0; y < GRID.height / 2; y++)
    for (let x = 0; x < GRID.width / 2; x++) {
      const p = 2 * y * GRID.width + 2 * x;
      re[y * WIDE + x] =
        (picture[p] as number) + (picture[p + 1] as number) + (picture[p + GRID.width] as number) + (picture[p + GRID.width + 1] as number);
    }
  return { re, im: new Float64Array(WIDE * HIGH) };
}

/** Takes the conjugate of the one times the other into the one. */
function multiply(one: Complex, other: Complex): void {
  for (let i = 0; i < one.re.length; i++) {
    const [a, b, c, d] = [one.re[i] as number, -(one.im[i] as number), other.re[i] as number, other.im[i] as number];
    one.re[i] = a * c - b * d;
    one.im[i] = a * d + b * c;
  }
}

function peak(values: Float64Array): { at: number; value: number } {
  let at = 0;
  for (let i = 1; i < values.length; i++) if ((values[i] as number) > (values[at] as number)) at = i;
  return { at, value: values[at] as number };
}

/** The Fourier transform of a field, rows then columns, in place. */
function transform(field: Complex, back: boolean): void {
  for (let y = 0; y < HIGH; y++) line(field, y * WIDE, 1, WIDE, back);
  for (let x = 0; x < WIDE; x++) line(field, x, WIDE, HIGH, back);
}

/** Turns of the transform, of the longer side; of the shorter every second. */
const COS = Float64Array.from({ length: WIDE / 2 }, (_, k) => Math.cos((2 * Math.PI * k) / WIDE));
const SIN = Float64Array.from({ length: WIDE / 2 }, (_, k) => -Math.sin((2 * Math.PI * k) / WIDE));

/** One row or column, by halving (Cooley and Tukey). */
function line({ re, im }: Complex, from: number, step: number, length: number, back: boolean): void {
  for (let i = 1, j = 0; i < length; i++) {
    let bit = length >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i >= j) continue;
    const [a, b] = [from + i * step, from + j * step];
    const [swapRe, swapIm] = [re[a] as number, im[a] as number];
    re[a] = re[b] as number;
    im[a] = im[b] as number;
    re[b] = swapRe;
    im[b] = swapIm;
  }
  const sign = back ? -1 : 1;
  for (let size = 2; size <= length; size <<= 1) {
    const turn = WIDE / size;
    const half = (size / 2) * step;
    for (let i = 0; i < length; i += size)
      for (let k = 0; k < size / 2; k++) {
        const a = from + (i + k) * step;
        const b = a + half;
        const wRe = COS[k * turn] as number;
        const wIm = sign * (SIN[k * turn] as number);
        const x = re[b] as number;
        const y = im[b] as number;
        const tRe = x * wRe - y * wIm;
        const tIm = x * wIm + y * wRe;
        re[b] = (re[a] as number) - tRe;
        im[b] = (im[a] as number) - tIm;
        re[a] = (re[a] as number) + tRe;
        im[a] = (im[a] as number) + tIm;
      }
  }
}
