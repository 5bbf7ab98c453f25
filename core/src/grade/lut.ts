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

/**
 * A look-up for whole pictures of interleaved 16-bit samples, R, G, B first of `channels`; in place. Entries of a curve
 * are mixed linearly, those of a lattice over the tetrahedron around each colour (tetrahedral interpolation, common
 * practice). Input outside the domain is held at its edge; results are held to 0..1.
 */
export function lookUpPixels(lut: Lut): (pixels: Uint16Array, channels: 3 | 4) => void {
  const look = lut.dimensions === 1 ? curveLookUp(lut) : latticeLookUp(lut);
  const colour = new Float32Array(3);
  return (pixels, channels) => {
    for (let at = 0; at + 2 < pixels.length; at += channels) {
      colour[0] = (pixels[at] as number) / 65535;
      colour[1] = (pixels[at + 1] as number) / 65535;
      colour[2] = (pixels[at + 2] as number) / 65535;
      look(colour);
      for (let c = 0; c < 3; c++) pixels[at + c] = Math.min(1, Math.max(0, colour[c] as number)) * 65535 + 0.5;
    }
  };
}

/** Where a value lies among the entries along one side, 0 to `size` - 1. */
const placeIn = ({ domainMin, domainMax, size }: Lut, value: number, channel: number): number => {
  const [from, to] = [domainMin[channel] as number, domainMax[channel] as number];
  return Math.min(1, Math.max(0, (value - from) / (to - from))) * (size - 1);
};

function curveLookUp(lut: Lut): (colour: Float32Array) => void {
  return (colour) => {
    for (let c = 0; c < 3; c++) {
      const place = placeIn(lut, colour[c] as number, c);
      const low = Math.min(lut.size - 2, Math.floor(place));
      const [a, b] = [lut.table[low * 3 + c] as number, lut.table[low * 3 + 3 + c] as number];
      colour[c] = a + (b - a) * (place - low);
    }
  };
}

function latticeLookUp(lut: Lut): (colour: Float32Array) => void {
  const { size, table } = lut;
  const steps = [3, 3 * size, 3 * size * size] as const;
  return (colour) => {
    let corner = 0;
    const shares = [0, 0, 0];
    for (let c = 0; c < 3; c++) {
      const place = placeIn(lut, colour[c] as number, c);
      const low = Math.min(size - 2, Math.floor(place));
      corner += low * (steps[c] as number);
      shares[c] = place - low;
    }
    // From the lower corner along the axes in the order of their shares, the largest first.
    const order = [0, 1, 2].sort((a, b) => (shares[b] as number) - (shares[a] as number));
    const weights = [1 - (shares[order[0] as number] as number), 0, 0, 0];
    for (let i = 0; i < 3; i++)
      weights[i + 1] = (shares[order[i] as number] as number) - (i < 2 ? (shares[order[i + 1] as number] as number) : 0);
    colour.fill(0);
    for (let i = 0; i < 4; i++) {
      if (i > 0) corner += steps[order[i - 1] as number] as number;
      for (let c = 0; c < 3; c++) colour[c] = (colour[c] as number) + (weights[i] as number) * (table[corner + c] as number);
    }
  };
}
