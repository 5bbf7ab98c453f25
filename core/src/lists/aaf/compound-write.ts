/** A storage that is to be written: a folder of streams and further storages, with the class of the object that it is. */
export interface NewStorage {
  /** The AUID of its class, as 16 bytes. */
  readonly classId: Uint8Array;
  readonly streams: ReadonlyMap<string, Uint8Array>;
  readonly storages: ReadonlyMap<string, NewStorage>;
}

/** Bytes of a sector, of one of the small stream, of an entry of the directory; streams shorter than the cutoff lie in the small stream. */
const [SECTOR, SMALL, ENTRY, CUTOFF] = [4096, 64, 128, 4096];
const [FREE, END, TABLE] = [0xffffffff, 0xfffffffe, 0xfffffffd];
/** Parts of the sector table that the header has room for: 457 MB of file. */
const IN_HEADER = 109;
/** That a compound file of sectors of 4096 bytes is an AAF file (AAF Stored Format Specification, "file kind"), as stored. */
const FILE_KIND = [0x01, 0x02, 0x01, 0x0d, 0x00, 0x02, 0x00, 0x00, 0x06, 0x0e, 0x2b, 0x34, 0x03, 0x02, 0x01, 0x01];

interface Entry {
  readonly name: string;
  readonly type: 1 | 2 | 5;
  readonly classId: Uint8Array | null;
  readonly content: Uint8Array | null;
  left: number;
  right: number;
  child: number;
  red: boolean;
  start: number;
}

/** A compound file of version 4, with sectors of 4096 bytes (MS-CFB). Throws where it would be larger than 457 MB. */
export function writeCompound(root: NewStorage): Uint8Array {
  const entries: Entry[] = [];
  enter(entries, 'Root Entry', 5, root, null);
  const chunks: Uint8Array[] = [];
  /** What follows each sector. */
  const table: number[] = [];
  const lay = (content: Uint8Array): number => {
    if (content.length === 0) return END;
    const [first, count] = [table.length, Math.ceil(content.length / SECTOR)];
    for (let i = 0; i < count; i++) table.push(i + 1 < count ? first + i + 1 : END);
    const padded = new Uint8Array(count * SECTOR);
    padded.set(content);
    chunks.push(padded);
    return first;
  };
  const small = smallStream(entries);
  for (const entry of entries) if (entry.content && entry.content.length >= CUTOFF) entry.start = lay(entry.content);
  (entries[0] as Entry).start = lay(small.bytes);
  const smallTable = lay(small.table);
  const directory = lay(directoryOf(entries, small.bytes.length));
  const each = SECTOR / 4;
  let parts = 1;
  while (parts * each < table.length + parts) parts++;
  if (parts > IN_HEADER) throw new Error('The cut is too large for one AAF file.');
  const firstPart = table.length;
  const whole = new Uint32Array(parts * each).fill(FREE);
  whole.set(table);
  whole.fill(TABLE, firstPart, firstPart + parts);
  const file = new Uint8Array((1 + firstPart + parts) * SECTOR);
  header(file, {
    firstPart,
    parts,
    directory,
    directorySectors: Math.ceil((entries.length * ENTRY) / SECTOR),
    smallTable,
    small: small.table,
  });
  let at = SECTOR;
  for (const chunk of chunks) {
    file.set(chunk, at);
    at += chunk.length;
  }
  file.set(numbers(whole), at);
  return file;
}

/** Enters a stream or a storage, with all it holds; gives the number of its entry. */
function enter(entries: Entry[], name: string, type: Entry['type'], storage: NewStorage | null, content: Uint8Array | null): number {
  const made: Entry = {
    name,
    type,
    classId: storage?.classId ?? null,
    content,
    left: FREE,
    right: FREE,
    child: FREE,
    red: false,
    start: type === 1 ? 0 : END,
  };
  const number = entries.push(made) - 1;
  if (!storage) return number;
  const inside: Named[] = [];
  for (const [own, bytes] of storage.streams) inside.push({ capitals: own.toUpperCase(), number: enter(entries, own, 2, null, bytes) });
  for (const [own, one] of storage.storages) inside.push({ capitals: own.toUpperCase(), number: enter(entries, own, 1, one, null) });
  if (inside.length > 1) inside.sort(inOrder);
  made.child = balanced(entries, inside, 0, inside.length, 0, Math.floor(Math.log2(inside.length + 1)));
  return number;
}

interface Named {
  readonly capitals: string;
  readonly number: number;
}

/** Names are ordered by their length, then by their letters as capitals (MS-CFB 2.6.4). */
const inOrder = ({ capitals: a }: Named, { capitals: b }: Named): number => a.length - b.length || (a < b ? -1 : a > b ? 1 : 0);

/** Entries in order as a tree whose branches are equally long but for the last row, which is red: so every way down has as many black ones. */
function balanced(entries: Entry[], inside: readonly Named[], from: number, to: number, depth: number, full: number): number {
  if (from >= to) return FREE;
  const middle = (from + to) >> 1;
  const { number } = inside[middle] as Named;
  const entry = entries[number] as Entry;
  entry.left = balanced(entries, inside, from, middle, depth + 1, full);
  entry.right = balanced(entries, inside, middle + 1, to, depth + 1, full);
  entry.red = depth >= full;
  return number;
}

/** The small streams one after the other, and what follows each of their sectors. */
function smallStream(entries: readonly Entry[]): { bytes: Uint8Array; table: Uint8Array } {
  const of = entries.filter((e) => e.content && e.content.length > 0 && e.content.length < CUTOFF);
  const next: number[] = [];
  for (const entry of of) {
    entry.start = next.length;
    const count = Math.ceil((entry.content as Uint8Array).length / SMALL);
    for (let i = 0; i < count; i++) next.push(i + 1 < count ? next.length + 1 : END);
  }
  const bytes = new Uint8Array(next.length * SMALL);
  for (const entry of of) bytes.set(entry.content as Uint8Array, entry.start * SMALL);
  const each = SECTOR / 4;
  const table = new Uint32Array(Math.ceil(next.length / each) * each).fill(FREE);
  table.set(next);
  return { bytes, table: numbers(table) };
}

function directoryOf(entries: readonly Entry[], small: number): Uint8Array {
  const each = SECTOR / ENTRY;
  const bytes = new Uint8Array(Math.ceil(entries.length / each) * SECTOR);
  const view = new DataView(bytes.buffer);
  for (let i = 0; i < bytes.length / ENTRY; i++) {
    const [at, entry] = [i * ENTRY, entries[i]];
    for (const o of [68, 72, 76]) view.setUint32(at + o, FREE, true);
    if (!entry) continue;
    for (let k = 0; k < entry.name.length; k++) view.setUint16(at + 2 * k, entry.name.charCodeAt(k), true);
    view.setUint16(at + 64, 2 * entry.name.length + 2, true);
    view.setUint8(at + 66, entry.type);
    view.setUint8(at + 67, entry.red ? 0 : 1);
    view.setUint32(at + 68, entry.left, true);
    view.setUint32(at + 72, entry.right, true);
    view.setUint32(at + 76, entry.child, true);
    if (entry.classId) bytes.set(entry.classId, at + 80);
    view.setUint32(at + 116, entry.start, true);
    view.setUint32(at + 120, entry.type === 5 ? small : (entry.content?.length ?? 0), true);
  }
  return bytes;
}

interface Laid {
  readonly firstPart: number;
  readonly parts: number;
  readonly directory: number;
  readonly directorySectors: number;
  readonly smallTable: number;
  readonly small: Uint8Array;
}

function header(file: Uint8Array, { firstPart, parts, directory, directorySectors, smallTable, small }: Laid): void {
  const view = new DataView(file.buffer);
  file.set([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1]);
  file.set(FILE_KIND, 8);
  // Minor and major version, byte order, sector sizes as powers of two.
  [62, 4, 0xfffe, 12, 6].forEach((value, i) => {
    view.setUint16(24 + 2 * i, value, true);
  });
  view.setUint32(40, directorySectors, true);
  view.setUint32(44, parts, true);
  view.setUint32(48, directory, true);
  view.setUint32(56, CUTOFF, true);
  view.setUint32(60, smallTable, true);
  view.setUint32(64, small.length / SECTOR, true);
  view.setUint32(68, END, true);
  for (let i = 0; i < IN_HEADER; i++) view.setUint32(76 + 4 * i, i < parts ? firstPart + i : FREE, true);
}

function numbers(values: Uint32Array): Uint8Array {
  const bytes = new Uint8Array(values.length * 4);
  const view = new DataView(bytes.buffer);
  values.forEach((value, i) => {
    view.setUint32(4 * i, value, true);
  });
  return bytes;
}
