/** A storage of a compound file: a folder of streams and further storages, with the class of the object that it is. */
export interface Storage {
  /** The AUID of its class, as 32 hexadecimal digits in groups. */
  readonly classId: string;
  /** What its object is, as it is stored; empty where it has none. */
  readonly properties: Uint8Array;
  /** How what it holds is ordered, by the name of that. */
  readonly indices: ReadonlyMap<string, Uint8Array>;
  readonly storages: ReadonlyMap<string, Storage>;
  /** What was made of it, so that it is not made twice; kept here, since a table of that beside would have to be searched for every object. */
  made: unknown;
}

/** The first eight bytes of a compound file (MS-CFB 2.2). */
const SIGNATURE = [0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1];
export const isCompound = (bytes: Uint8Array): boolean => bytes.length >= 512 && SIGNATURE.every((b, i) => bytes[i] === b);

/** From this value up an entry of a sector table names no sector (MS-CFB 2.1). */
const FIRST_SPECIAL = 0xfffffffa;
/** Entries of the table of tables in the header, from its byte 76 on; bytes of an entry of the directory, and of a sector of the small stream. */
const [IN_HEADER, ENTRY, SMALL] = [109, 128, 64];
/** Streams that are read: of an object its properties and how what it holds is ordered. All else may be pictures and sound, of any size. */
const [PROPERTIES, INDEX] = ['properties', ' index'];
/** What describes the classes and types of the format: they are known here, and it is larger than many cuts. */
const KNOWN = 'MetaDictionary-1';

interface Entry {
  readonly name: string;
  readonly type: number;
  readonly left: number;
  readonly right: number;
  readonly child: number;
  /** Where it stands in the directory, in bytes. */
  readonly at: number;
  readonly start: number;
  readonly size: number;
}

/**
 * Opens a compound file of either sector size as a tree of storages (MS-CFB). What is damaged is left out: a chain that leads out of the file or
 * comes back to itself ends, an entry of the directory is taken once, and all streams together are no longer than the file. Gives a word instead
 * of a tree where not even the directory can be found.
 */
export function openCompound(bytes: Uint8Array): Storage | { readonly fault: string } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const shift = view.getUint16(30, true);
  if (shift !== 9 && shift !== 12) return { fault: `its sectors have 2^${shift} bytes` };
  const size = 1 << shift;
  const sectors = Math.max(0, Math.ceil(bytes.length / size) - 1);
  const sector = (n: number): Uint8Array => bytes.subarray((n + 1) * size, (n + 2) * size);
  const table = sectorTable(view, size, sectors);
  const read = (start: number, length: number): Uint8Array => {
    const made = new Uint8Array(length);
    let [at, filled] = [start, 0];
    for (let step = 0; filled < length && at < sectors && step <= sectors; step++) {
      made.set(sector(at).subarray(0, length - filled), filled);
      filled += size;
      at = table[at] ?? FIRST_SPECIAL;
    }
    return filled >= length ? made : made.subarray(0, filled);
  };
  const lengthOf = (start: number): number => {
    let [at, count] = [start, 0];
    for (; at < sectors && count < sectors; count++) at = table[at] ?? FIRST_SPECIAL;
    return count * size;
  };
  const first = view.getUint32(48, true);
  const directory = read(first, lengthOf(first));
  const count = Math.floor(directory.length / ENTRY);
  const entryAt = (i: number): Entry | undefined => (i < count ? entryIn(directory, i, bytes.length) : undefined);
  const root = entryAt(0);
  if (root?.type !== 5) return { fault: 'its directory is not where it ought to be' };
  const small = read(root.start, Math.min(root.size, bytes.length));
  const firstSmall = view.getUint32(60, true);
  const smallTable = numbersIn(read(firstSmall, lengthOf(firstSmall)));
  const cutoff = view.getUint32(56, true);
  let budget = bytes.length;
  const contentOf = ({ start, size: length }: Entry): Uint8Array => {
    budget -= length;
    if (budget < 0) return new Uint8Array(0);
    if (length >= cutoff) return read(start, length);
    // Mostly its parts follow each other, and need not be put together.
    let run = start;
    for (let filled = SMALL; filled < length && smallTable[run] === run + 1; filled += SMALL) run++;
    if ((run - start + 1) * SMALL >= length && start * SMALL + length <= small.length)
      return small.subarray(start * SMALL, start * SMALL + length);
    const made = new Uint8Array(length);
    let at = start;
    for (let filled = 0; filled < length && at * SMALL < small.length; filled += SMALL) {
      made.set(small.subarray(at * SMALL, at * SMALL + Math.min(SMALL, length - filled)), filled);
      at = smallTable[at] ?? FIRST_SPECIAL;
    }
    return made;
  };
  const taken = new Uint8Array(count);
  const storageOf = (entry: Entry, depth: number): Storage => {
    // Most hold nothing: they share what is empty.
    let properties: Uint8Array = NOTHING;
    let indices: Map<string, Uint8Array> | null = null;
    let storages: Map<string, Storage> | null = null;
    // The entries below a storage are a tree of their own; it is walked without recursion, since a damaged one is a list.
    const waiting = [entry.child];
    for (let at = waiting.pop(); at !== undefined; at = waiting.pop()) {
      const one = taken[at] === 1 ? undefined : entryAt(at);
      if (!one) continue;
      taken[at] = 1;
      waiting.push(one.left, one.right);
      if (one.type === 2 && one.name === PROPERTIES) properties = contentOf(one);
      else if (one.type === 2 && one.name.endsWith(INDEX)) {
        indices ??= new Map();
        indices.set(one.name.slice(0, -INDEX.length), contentOf(one));
      } else if (one.type === 1 && depth < DEEPEST && !(depth === 0 && one.name === KNOWN)) {
        storages ??= new Map();
        storages.set(one.name, storageOf(one, depth + 1));
      }
    }
    return {
      classId: auidIn(directory, entry.at + 80),
      properties,
      indices: indices ?? NO_INDICES,
      storages: storages ?? NO_STORAGES,
      made: null,
    };
  };
  return storageOf(root, 0);
}

const NOTHING = new Uint8Array(0);
const NO_INDICES: ReadonlyMap<string, Uint8Array> = new Map();
const NO_STORAGES: ReadonlyMap<string, Storage> = new Map();

/** Storages lie no deeper than this in files that are sound. */
const DEEPEST = 200;

const numbersIn = (bytes: Uint8Array): Uint32Array => {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Uint32Array.from({ length: Math.floor(bytes.length / 4) }, (_, i) => view.getUint32(i * 4, true));
};

/** Which sector follows each; its parts are named in the header, and in a chain of sectors whose last entry names the next. */
function sectorTable(view: DataView, size: number, sectors: number): Uint32Array {
  const at = (n: number, i: number): number => {
    const place = (n + 1) * size + i * 4;
    return place + 4 <= view.byteLength ? view.getUint32(place, true) : FIRST_SPECIAL;
  };
  const each = size / 4;
  const parts = Array.from({ length: IN_HEADER }, (_, i) => view.getUint32(76 + i * 4, true));
  let next = view.getUint32(68, true);
  for (let step = 0; next < sectors && step * each < sectors; step++) {
    for (let i = 0; i < each - 1; i++) parts.push(at(next, i));
    next = at(next, each - 1);
  }
  const table = new Uint32Array(sectors).fill(FIRST_SPECIAL);
  parts
    .filter((n) => n < sectors)
    .forEach((part, k) => {
      for (let i = 0; i < each && k * each + i < sectors; i++) table[k * each + i] = at(part, i);
    });
  return table;
}

/** Numbers of two and four bytes, their low byte first. */
export const u16 = (b: Uint8Array, at: number): number => (b[at] as number) | ((b[at + 1] as number) << 8);
export const u32 = (b: Uint8Array, at: number): number => (u16(b, at) | (u16(b, at + 2) << 16)) >>> 0;

/** An entry of the directory; none is looked at that nothing leads to. */
function entryIn(directory: Uint8Array, i: number, longest: number): Entry {
  const at = i * ENTRY;
  const letters = Math.min(64, Math.max(2, u16(directory, at + 64))) - 2;
  return {
    name: nameIn(directory, at, letters >> 1),
    type: directory[at + 66] as number,
    left: u32(directory, at + 68),
    right: u32(directory, at + 72),
    child: u32(directory, at + 76),
    at,
    start: u32(directory, at + 116),
    size: Math.min(longest, u32(directory, at + 120)),
  };
}

/** A name of so many letters; one that many entries have is put together once. */
function nameIn(directory: Uint8Array, at: number, letters: number): string {
  let usual = letters === PROPERTIES.length;
  for (let i = 0; usual && i < letters; i++) usual = u16(directory, at + 2 * i) === PROPERTIES.charCodeAt(i);
  if (usual) return PROPERTIES;
  let name = '';
  for (let i = 0; i < letters; i++) name += String.fromCharCode(u16(directory, at + 2 * i));
  return name;
}

/** The AUID at a place of some bytes. There are few that a file uses: their names are made once, and found by what differs between them. */
export function auidIn(bytes: Uint8Array, at: number): string {
  const key = u32(bytes, at) ^ u32(bytes, at + 4);
  const known = AUIDS.get(key);
  if (
    known &&
    known.a === u32(bytes, at) &&
    known.b === u32(bytes, at + 4) &&
    known.c === u32(bytes, at + 8) &&
    known.d === u32(bytes, at + 12)
  )
    return known.id;
  const id = auidOf(bytes.subarray(at, at + 16));
  if (AUIDS.size < MOST_AUIDS && id !== '')
    AUIDS.set(key, { a: u32(bytes, at), b: u32(bytes, at + 4), c: u32(bytes, at + 8), d: u32(bytes, at + 12), id });
  return id;
}
const AUIDS = new Map<number, { readonly a: number; readonly b: number; readonly c: number; readonly d: number; readonly id: string }>();
/** A damaged file may name any number of them. */
const MOST_AUIDS = 1000;

const HEX = Array.from({ length: 256 }, (_, i) => i.toString(16).padStart(2, '0'));
export const hexOf = (bytes: Uint8Array): string => {
  let hex = '';
  for (const b of bytes) hex += HEX[b];
  return hex;
};

/** An AUID as its 16 bytes are stored: three numbers with their low byte first, then eight bytes. Empty where there are fewer. */
export function auidOf(b: Uint8Array): string {
  if (b.length < 16) return '';
  const h = (i: number) => HEX[b[i] as number];
  return `${h(3)}${h(2)}${h(1)}${h(0)}-${h(5)}${h(4)}-${h(7)}${h(6)}-${h(8)}${h(9)}-${hexOf(b.subarray(10, 16))}`;
}
