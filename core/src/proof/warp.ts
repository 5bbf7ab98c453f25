import { correlator, HALF } from './correlate';
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
  const cos = Math.cos(angle) / laid.scale;
  const sin = Math.sin(angle) / laid.scale;
  const fx = laid.flip === 'horizontal' ? -1 : 1;
  const fy = laid.flip === 'vertical' ? -1 : 1;
  const left = 0.5 - width / 2 - laid.x * width;
  const top = 0.5 - height / 2 - laid.y * height;
  for (let row = 0, at = 0; row < height; row++) {
    const v = row + top;
    const px0 = width / 2 - 0.5 - fx * v * sin;
    const py0 = height / 2 - 0.5 + fy * v * cos;
    for (let column = 0; column < width; column++, at++) {
      const u = column + left;
      const px = px0 + fx * u * cos;
      const py = py0 + fy * u * sin;
      if (px < -0.5 || py < -0.5 || px > width - 0.5 || py > height - 0.5) continue;
      const x0 = px < 0 ? 0 : px >= width - 1 ? width - 2 : Math.floor(px);
      const y0 = py < 0 ? 0 : py >= height - 1 ? height - 2 : Math.floor(py);
      const gx = px < x0 ? 0 : px > x0 + 1 ? 1 : px - x0;
      const gy = py < y0 ? 0 : py > y0 + 1 ? 1 : py - y0;
      const p = y0 * width + x0;
      const upper = (luma[p] as number) + gx * ((luma[p + 1] as number) - (luma[p] as number));
      const lower = (luma[p + width] as number) + gx * ((luma[p + width + 1] as number) - (luma[p + width] as number));
      out[at] = upper + gy * (lower - upper);
    }
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
  const inner = innerOf(mask);
  let laid = from;
  let best = { laid, score: Number.NEGATIVE_INFINITY };
  for (let round = 0; round <= ROUNDS; round++) {
    const sums = new Float64Array(14);
    let score = 0;
    for (const [i, { source }] of matches.entries()) {
      const reference = references[i] as Float32Array;
      const picture = comparable(warped(source, laid), mask);
      score += agreement(reference, picture);
      addMoves(sums, reference, picture, inner, width / 2 + laid.x * width - 0.5, height / 2 + laid.y * height - 0.5);
    }
    if (score > best.score) best = { laid, score };
    if (round === ROUNDS) break;
    const step = solved(sums);
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

/** Points of a mask all of whose four neighbours take part, too: there a picture has gradients. */
const inners = new WeakMap<Mask, Uint8Array>();

function innerOf(mask: Mask): Uint8Array {
  const known = inners.get(mask);
  if (known) return known;
  const { width, height } = GRID;
  const inner = new Uint8Array(GRID_SIZE);
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const at = y * width + x;
      inner[at] = mask[at] && mask[at - 1] && mask[at + 1] && mask[at - width] && mask[at + width] ? 1 : 0;
    }
  inners.set(mask, inner);
  return inner;
}

/**
 * Adds to the sums of least squares what small changes of scale, angle and place about a centre do to a picture, at each
 * inner point: ten of the upper half of the matrix, row by row, then four of the right side.
 */
function addMoves(sums: Float64Array, reference: Float32Array, picture: Float32Array, inner: Uint8Array, cx: number, cy: number): void {
  const { width, height } = GRID;
  let [a00, a01, a02, a03, a11, a12, a13, a22, a23, a33] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
  let [b0, b1, b2, b3] = [0, 0, 0, 0];
  for (let y = 1; y < height - 1; y++)
    for (let x = 1, at = y * width + 1; x < width - 1; x++, at++) {
      if (!inner[at]) continue;
      const gx = ((picture[at + 1] as number) - (picture[at - 1] as number)) / 2;
      const gy = ((picture[at + width] as number) - (picture[at - width] as number)) / 2;
      const u = x - cx;
      const v = y - cy;
      const scaled = -(gx * u + gy * v);
      const turned = gx * v - gy * u;
      const error = (reference[at] as number) - (picture[at] as number);
      a00 += scaled * scaled;
      a01 += scaled * turned;
      a02 -= scaled * gx;
      a03 -= scaled * gy;
      a11 += turned * turned;
      a12 -= turned * gx;
      a13 -= turned * gy;
      a22 += gx * gx;
      a23 += gx * gy;
      a33 += gy * gy;
      b0 += scaled * error;
      b1 += turned * error;
      b2 -= gx * error;
      b3 -= gy * error;
    }
  [a00, a01, a02, a03, a11, a12, a13, a22, a23, a33, b0, b1, b2, b3].forEach((sum, i) => {
    sums[i] = (sums[i] as number) + sum;
  });
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
  const sums = new Float64Array(14);
  const inner = innerOf(mask);
  const by = new Float64Array(5);
  for (const match of matches) {
    const [reference, picture] = [comparable(match.reference, mask), comparable(match.source, mask)];
    for (let y = 1; y < height - 1; y++)
      for (let x = 1; x < width - 1; x++) {
        const at = y * width + x;
        if (!inner[at]) continue;
        by[2] = -((picture[at + 1] as number) - (picture[at - 1] as number)) / 2;
        by[3] = -((picture[at + width] as number) - (picture[at - width] as number)) / 2;
        by[0] = (by[2] as number) * (x - width / 2 + 0.5);
        by[1] = (by[3] as number) * (y - height / 2 + 0.5);
        by[4] = (reference[at] as number) - (picture[at] as number);
        for (let i = 0, to = 0; i < 4; i++)
          for (let j = i; j < 4; j++, to++) sums[to] = (sums[to] as number) + (by[i] as number) * (by[j] as number);
        for (let i = 0; i < 4; i++) sums[10 + i] = (sums[10 + i] as number) + (by[i] as number) * (by[4] as number);
      }
  }
  const step = solved(sums);
  if (!step) return null;
  const [across, down, dx, dy] = step as [number, number, number, number];
  return { wider: 1 + across, taller: 1 + down, x: dx / width, y: dy / height };
}

/** Solves four equations, of which the upper half of the symmetric matrix is given row by row, then the right side; null where they say nothing. */
const solved = (sums: Float64Array): number[] | null =>
  solution(
    Array.from({ length: 4 }, (_, i) => Float64Array.from({ length: 5 }, (__, j) => sums[j === 4 ? 10 + i : upperAt(i, j)] as number)),
  );

/** Where an element of a symmetric matrix of four stands in its upper half, row by row. */
const upperAt = (i: number, j: number): number => {
  const [row, column] = [Math.min(i, j), Math.max(i, j)];
  return row * 4 - (row * (row - 1)) / 2 + column - row;
};

/** Scales, in steps of 6 %, and rotations in degrees, at which a picture is looked for. */
const SCALES = Array.from({ length: 29 }, (_, i) => 0.45 * 1.06 ** i);
const ROTATIONS: readonly number[] = [-3, 3, -6, 6, -9, 9];

const WHOLE = wholeMask();

/**
 * Looks for a picture in a frame of the reference at any place, at scales from 0.45 to 2.3, level or where it is
 * `turned` by up to 9 degrees either way, as it is or flipped. All places are tried at once by way of the Fourier transform. The
 * best few, best first, to be refined.
 */
export function placesOf(match: Match, flips: readonly Laid['flip'][], mask: Mask, most = 4, turned = false): Laid[] {
  const correlate = correlator(halved(comparable(match.reference, mask)));
  const found: { laid: Laid; score: number }[] = [];
  const attempts: { laid: Laid; picture: Float32Array }[] = [];
  for (const scale of SCALES)
    for (const rotation of turned ? ROTATIONS : [0]) {
      const upright: Laid = { ...AS_IT_IS, scale, rotation };
      // Level, a flipped picture is the mirror image of the plain one.
      const plain = turned ? null : halved(comparable(warped(match.source, upright), WHOLE));
      for (const flip of flips) {
        const laid = { ...upright, flip };
        attempts.push({ laid, picture: plain ? flipped(plain, flip) : halved(comparable(warped(match.source, laid), WHOLE)) });
      }
    }
  for (let i = 0; i < attempts.length; i += 2) {
    const pair = attempts.slice(i, i + 2);
    correlate(pair.map((a) => a.picture)).forEach(({ dx, dy, value }, k) => {
      const laid = (pair[k] as { laid: Laid }).laid;
      found.push({ laid: { ...laid, x: (2 * dx) / GRID.width, y: (2 * dy) / GRID.height }, score: value });
    });
  }
  return found
    .sort((a, b) => b.score - a.score)
    .slice(0, most)
    .map((f) => f.laid);
}

/** A comparable picture at half size. */
function halved(picture: Float32Array): Float32Array {
  const { width, height } = HALF;
  const out = new Float32Array(width * height);
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++) {
      const p = 2 * y * GRID.width + 2 * x;
      out[at] =
        (picture[p] as number) + (picture[p + 1] as number) + (picture[p + GRID.width] as number) + (picture[p + GRID.width + 1] as number);
    }
  return out;
}

function flipped(picture: Float32Array, flip: Laid['flip']): Float32Array {
  if (flip === '') return picture;
  const { width, height } = HALF;
  return picture.map((_, at) => {
    const [x, y] = [at % width, Math.floor(at / width)];
    return picture[flip === 'horizontal' ? y * width + width - 1 - x : (height - 1 - y) * width + x] as number;
  });
}
