/** Points of a grid that take part: 1 for each that does. */
type Here = Uint8Array;

/** The most points of a grid, a row of nothing above and beside them included. */
const MOST = 1 << 13;
const sums = new Float64Array(MOST);
const squares = new Float64Array(MOST);
const means = new Float32Array(MOST);
const variances = new Float32Array(MOST);

/** For each point one over the number of those around it that take part: the same for all pictures of one mask. */
const shares = new WeakMap<Here, Map<number, Float32Array>>();

function sharesOf(here: Here, width: number, height: number, radius: number): Float32Array {
  const known = shares.get(here) ?? new Map<number, Float32Array>();
  shares.set(here, known);
  const made = known.get(radius) ?? oneOverCounts(here, width, height, radius);
  known.set(radius, made);
  return made;
}

function oneOverCounts(here: Here, width: number, height: number, radius: number): Float32Array {
  const out = new Float32Array(here.length);
  addUp(here, here, width, height);
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++) {
      const [left, right] = [Math.max(0, x - radius), Math.min(width, x + radius + 1)];
      const [top, bottom] = [Math.max(0, y - radius) * (width + 1), Math.min(height, y + radius + 1) * (width + 1)];
      const [a, b] = [
        (sums[bottom + right] as number) - (sums[top + right] as number),
        (sums[bottom + left] as number) - (sums[top + left] as number),
      ];
      out[at] = a > b ? 1 / (a - b) : 0;
    }
  return out;
}

/** Adds values and their squares up from the upper left, where the mask has 1: the sum over any square is then four look-ups. */
function addUp(luma: Uint8Array | Float32Array, here: Here, width: number, height: number): void {
  const across = width + 1;
  sums.fill(0, 0, across);
  squares.fill(0, 0, across);
  for (let y = 0, at = 0; y < height; y++) {
    let [sum, square] = [0, 0];
    let to = (y + 1) * across;
    sums[to] = 0;
    squares[to] = 0;
    for (let x = 0; x < width; x++, at++) {
      const v = here[at] ? (luma[at] as number) : 0;
      sum += v;
      square += v * v;
      to++;
      sums[to] = (sums[to - across] as number) + sum;
      squares[to] = (squares[to - across] as number) + square;
    }
  }
}

/**
 * Mean and variance of what lies within `radius` points of each point of a grid, each way, where the mask has 1. Both are
 * the same arrays at every call, longer than the grid, and hold until the next.
 */
export function surroundingsOf(
  luma: Uint8Array | Float32Array,
  here: Here,
  width: number,
  height: number,
  radius: number,
): { readonly mean: Float32Array; readonly variance: Float32Array } {
  const over = sharesOf(here, width, height, radius);
  const across = width + 1;
  addUp(luma, here, width, height);
  for (let y = 0, at = 0; y < height; y++) {
    const top = Math.max(0, y - radius) * across;
    const bottom = Math.min(height, y + radius + 1) * across;
    for (let x = 0; x < width; x++, at++) {
      const left = x > radius ? x - radius : 0;
      const right = x + radius < width ? x + radius + 1 : width;
      const [a, b, c, d] = [bottom + right, top + right, bottom + left, top + left];
      const share = over[at] as number;
      const mean = ((sums[a] as number) - (sums[b] as number) - (sums[c] as number) + (sums[d] as number)) * share;
      const square = ((squares[a] as number) - (squares[b] as number) - (squares[c] as number) + (squares[d] as number)) * share;
      means[at] = mean;
      variances[at] = square > mean * mean ? square - mean * mean : 0;
    }
  }
  return { mean: means, variance: variances };
}
