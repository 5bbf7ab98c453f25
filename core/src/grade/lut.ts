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
    const at = `Line ${i + 1}`;
    const [word = '', ...rest] = line.split(/\s+/);
    const three = rest.map(Number);
    if (word === 'TITLE') title = line.slice(5).trim().replace(/^"|"$/g, '');
    else if (word === 'LUT_1D_SIZE' || word === 'LUT_3D_SIZE') {
      const dimensions = word === 'LUT_1D_SIZE' ? 1 : 3;
      const size = Number(rest[0]);
      if (kind) return { fault: `${at} gives a second size.` };
      if (!Number.isInteger(size) || size < 2 || size > LARGEST[dimensions])
        return { fault: `${at}: a size of 2 to ${LARGEST[dimensions]} was expected, not ${rest[0] ?? 'nothing'}.` };
      kind = { dimensions, size };
      table = new Float32Array(3 * size ** dimensions);
    } else if (word === 'DOMAIN_MIN' || word === 'DOMAIN_MAX') {
      if (!isTriple(three)) return { fault: `${at}: three numbers were expected after ${word}.` };
      if (word === 'DOMAIN_MIN') domainMin = three;
      else domainMax = three;
    } else if (/^[-+.\d]/.test(word)) {
      const entry = [Number(word), ...three];
      if (!table) return { fault: `${at} is an entry, but no size came before it.` };
      if (!isTriple(entry)) return { fault: `${at}: an entry is three numbers.` };
      if (filled + 3 > table.length) return { fault: `${at} is one entry more than the size allows.` };
      table.set(entry, filled);
      filled += 3;
    } else if (!/^[A-Z_0-9]+$/.test(word)) return { fault: `${at} cannot be read: “${line.slice(0, 40)}”.` };
  }
  if (!kind || !table) return { fault: 'The file gives no size.' };
  if (filled < table.length) return { fault: `${filled / 3} of ${table.length / 3} entries are there; the file is cut off.` };
  if (domainMin.some((min, i) => min >= (domainMax[i] as number))) return { fault: 'The domain ends before it begins.' };
  return { title, ...kind, domainMin, domainMax, table };
}

const isTriple = (numbers: number[]): numbers is [number, number, number] => numbers.length === 3 && numbers.every(Number.isFinite);
