import type { LutBetween } from '../edit';
import { GRADE_WORDS } from './wording';

/** A look-up table of colour as a `.cube` file holds it. */
export interface Lut {
  readonly title: string;
  /** 1: a curve for each channel; 3: a lattice in which red runs fastest. */
  readonly dimensions: 1 | 3;
  /** Entries along each side: 2..65536 in one dimension, 2..256 in three. */
  readonly size: number;
  readonly domainMin: readonly [number, number, number];
  readonly domainMax: readonly [number, number, number];
  /** Red, green, blue of each entry in the order of the file. */
  readonly table: Float32Array;
}

const LARGEST = { 1: 65_536, 3: 256 } as const;

/**
 * Reads a `.cube` look-up table (the published Cube LUT specification, version 1.0: `TITLE`, `LUT_1D_SIZE` or
 * `LUT_3D_SIZE`, `DOMAIN_MIN`, `DOMAIN_MAX`, then one line of three numbers an entry). What is wrong is
 * given as a sentence with its line; then there is no table.
 */
export function readCube(text: string): Lut | { readonly fault: string } {
  let title = '';
  let kind: { dimensions: 1 | 3; size: number } | null = null;
  let domainMin: [number, number, number] = [0, 0, 0];
  let domainMax: [number, number, number] = [1, 1, 1];
  let table: Float32Array | null = null;
  let filled = 0;
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);
  for (const [i, raw] of lines.entries()) {
    const line = raw.trim();
    if (line === '' || line.startsWith('#')) continue;
    const number = i + 1;
    const [word = '', ...rest] = line.split(/\s+/);
    const three = rest.map(Number);
    if (word === 'TITLE') title = line.slice(5).trim().replace(/^"|"$/g, '');
    else if (word === 'LUT_1D_SIZE' || word === 'LUT_3D_SIZE') {
      const dimensions = word === 'LUT_1D_SIZE' ? 1 : 3;
      const size = Number(rest[0]);
      if (kind) return { fault: GRADE_WORDS.secondSize({ line: number }) };
      if (!Number.isInteger(size) || size < 2 || size > LARGEST[dimensions])
        return { fault: GRADE_WORDS.impossibleSize({ line: number, most: LARGEST[dimensions], found: rest[0] ?? 'nothing' }) };
      kind = { dimensions, size };
      table = new Float32Array(3 * size ** dimensions);
    } else if (word === 'DOMAIN_MIN' || word === 'DOMAIN_MAX') {
      if (!isTriple(three)) return { fault: GRADE_WORDS.notThree({ line: number, word }) };
      if (word === 'DOMAIN_MIN') domainMin = three;
      else domainMax = three;
    } else if (/^[-+.\d]/.test(word)) {
      const entry = [Number(word), ...three];
      if (!table) return { fault: GRADE_WORDS.beforeSize({ line: number }) };
      if (!isTriple(entry)) return { fault: GRADE_WORDS.brokenEntry({ line: number }) };
      if (filled + 3 > table.length) return { fault: GRADE_WORDS.oneTooMany({ line: number }) };
      table.set(entry, filled);
      filled += 3;
    } else if (!/^[A-Z_0-9]+$/.test(word)) return { fault: GRADE_WORDS.unreadableLine({ line: number, text: line.slice(0, 40) }) };
  }
  if (!kind || !table) return { fault: GRADE_WORDS.noSize() };
  if (filled < table.length) return { fault: GRADE_WORDS.cutOff({ entries: filled / 3, expected: table.length / 3 }) };
  if (domainMin.some((min, i) => min >= (domainMax[i] as number))) return { fault: GRADE_WORDS.emptyDomain() };
  return { title, ...kind, domainMin, domainMax, table };
}

const isTriple = (numbers: number[]): numbers is [number, number, number] => numbers.length === 3 && numbers.every(Number.isFinite);

/** Finds the colour at three places among the entries, each 0 to `size` - 1. */
type Look = (r: number, g: number, b: number, to: Float32Array) => void;

/**
 * A look-up for whole pictures of interleaved 16-bit samples, R, G, B first of `channels`; in place. Entries of a curve
 * are mixed linearly, those of a lattice as `between` says (both are common practice; FFmpeg and the open colour library know them by
 * the same names). Input outside the domain is held at its edge; results are held to 0..1.
 */
export function lookUpPixels(lut: Lut, between: LutBetween): (pixels: Uint16Array, channels: 3 | 4) => void {
  const look = lut.dimensions === 1 ? alongCurves(lut) : between === 'trilinear' ? inCells(lut) : inTetrahedra(lut);
  const [red, green, blue] = [placesIn(lut, 0), placesIn(lut, 1), placesIn(lut, 2)];
  const found = new Float32Array(3);
  return (pixels, channels) => {
    for (let at = 0; at + 2 < pixels.length; at += channels) {
      look(red[pixels[at] as number] as number, green[pixels[at + 1] as number] as number, blue[pixels[at + 2] as number] as number, found);
      for (let c = 0; c < 3; c++) pixels[at + c] = Math.min(1, Math.max(0, found[c] as number)) * 65535 + 0.5;
    }
  };
}

/** Where each value of 16 bits lies among the entries along one side. */
const placesIn = ({ domainMin, domainMax, size }: Lut, channel: number): Float64Array => {
  const [from, to] = [domainMin[channel] as number, domainMax[channel] as number];
  return Float64Array.from({ length: 65536 }, (_, code) => Math.min(1, Math.max(0, (code / 65535 - from) / (to - from))) * (size - 1));
};

function alongCurves({ size, table }: Lut): Look {
  const along = (place: number, channel: number): number => {
    const low = Math.min(size - 2, Math.floor(place));
    const [a, b] = [table[low * 3 + channel] as number, table[low * 3 + 3 + channel] as number];
    return a + (b - a) * (place - low);
  };
  return (r, g, b, to) => {
    to[0] = along(r, 0);
    to[1] = along(g, 1);
    to[2] = along(b, 2);
  };
}

function inTetrahedra({ size, table }: Lut): Look {
  const [right, up, back] = [3, 3 * size, 3 * size * size];
  return (r, g, b, to) => {
    const low = { r: Math.min(size - 2, Math.floor(r)), g: Math.min(size - 2, Math.floor(g)), b: Math.min(size - 2, Math.floor(b)) };
    // From the lower corner along the axes in the order of their shares, the largest first.
    let [most, middle, least] = [r - low.r, g - low.g, b - low.b];
    let [first, second, third] = [right, up, back];
    if (most < middle) [most, middle, first, second] = [middle, most, second, first];
    if (middle < least) [middle, least, second, third] = [least, middle, third, second];
    if (most < middle) [most, middle, first, second] = [middle, most, second, first];
    const corner = low.r * right + low.g * up + low.b * back;
    const next = corner + first;
    const far = next + second;
    const opposite = far + third;
    for (let c = 0; c < 3; c++)
      to[c] =
        (1 - most) * (table[corner + c] as number) +
        (most - middle) * (table[next + c] as number) +
        (middle - least) * (table[far + c] as number) +
        least * (table[opposite + c] as number);
  };
}

function inCells({ size, table }: Lut): Look {
  const [right, up, back] = [3, 3 * size, 3 * size * size];
  return (r, g, b, to) => {
    const low = { r: Math.min(size - 2, Math.floor(r)), g: Math.min(size - 2, Math.floor(g)), b: Math.min(size - 2, Math.floor(b)) };
    const [x, y, z] = [r - low.r, g - low.g, b - low.b];
    const corner = low.r * right + low.g * up + low.b * back;
    for (let c = 0; c < 3; c++) {
      const along = (at: number): number => (1 - x) * (table[at] as number) + x * (table[at + right] as number);
      const over = (at: number): number => (1 - y) * along(at) + y * along(at + up);
      to[c] = (1 - z) * over(corner + c) + z * over(corner + c + back);
    }
  };
}
