import baseline from './baseline.json' with { type: 'json' };
import type { NewStorage } from './compound-write';

/** The classes and types of the format (AMWA AAF Object Specification 1.1), as far as they are written. */
export interface BaselineClass {
  readonly name: string;
  readonly id: string;
  readonly parent: string | null;
  readonly concrete: boolean;
  /** Name, AUID, local id, AUID of its type, whether it may be absent, whether it says who the object is. */
  readonly properties: readonly (readonly [string, string, number, string, boolean, boolean])[];
}
export interface BaselineType {
  readonly name: string;
  readonly id: string;
  readonly kind: string;
  readonly of?: string;
  readonly size?: number;
  readonly signed?: boolean;
  readonly count?: number;
  readonly path?: readonly string[];
  readonly names?: readonly string[];
  readonly values?: readonly (string | number)[];
  readonly types?: readonly string[];
}
export const CLASSES = baseline.classes as unknown as readonly BaselineClass[];
export const TYPES = baseline.types as readonly BaselineType[];

/** An object that is to be written: its class, and its properties by name. What is undefined is left out. */
export interface NewObject {
  readonly is: string;
  readonly has: Readonly<Record<string, Value | undefined>>;
}
/** Numbers, texts, AUIDs and mob ids as text, records as lists of their parts, objects; of a value that carries its type, both. */
export type Value =
  | number
  | string
  | boolean
  | NewObject
  | readonly (number | string)[]
  | readonly NewObject[]
  | { readonly type: string; readonly value: Value };

const classes = new Map(CLASSES.map((c) => [c.name, c]));
const types = new Map(TYPES.map((t) => [t.id, t]));
/** A type by its name. */
export const typeNamed = (name: string): BaselineType => TYPES.find((t) => t.name === name) as BaselineType;
const pids = new Map(CLASSES.flatMap((c) => c.properties.map(([, id, pid]) => [id, pid] as const)));

/** How what a property holds is stored (AAF Stored Format Specification 1.0, "stored forms"). */
const FORM = { data: 0x82, strong: 0x22, strongVector: 0x32, strongSet: 0x3a, weak: 0x02, weakVector: 0x12 } as const;

/** The paths that weak references lead along: what refers names one by its place here. */
export interface Paths {
  readonly all: readonly (readonly string[])[];
  placeOf(path: readonly string[]): number;
  /** The stream that holds them. */
  stream(): Uint8Array;
}

export function newPaths(known: readonly (readonly string[])[] = []): Paths {
  const all = [...known];
  return {
    all,
    placeOf(path) {
      const at = all.findIndex((p) => p.join() === path.join());
      return at >= 0 ? at : all.push(path) - 1;
    },
    stream() {
      const numbers = all.flatMap((path) => [...path.map((id) => pids.get(id) as number), 0]);
      return joined([[0x4c], int(all.length, 2), int(numbers.length, 4), numbers.flatMap((n) => int(n, 2))]);
    },
  };
}

/** Puts an object and all it holds into storages; `ready`: those that were before. Throws for a property that the class has not. */
export function storageOf(object: NewObject, paths: Paths, ready: ReadonlyMap<NewObject, NewStorage> = new Map()): NewStorage {
  const { classId, properties } = layoutOf(object.is);
  const storages = new Map<string, NewStorage>();
  const beside = new Map<string, Uint8Array>();
  const stored: Stored[] = [];
  for (const [name, value] of Object.entries(object.has)) {
    if (value === undefined) continue;
    const property = properties.get(name);
    if (!property) throw new Error(`${object.is} has no ${name}`);
    const { pid, type } = property;
    const keep = (form: number, data: Uint8Array) => stored.push({ pid, form, data });
    const element = type.of === undefined ? undefined : types.get(type.of);
    if (type.kind === 'strong') {
      const named = mangled(name, pid, 32);
      storages.set(named, ready.get(value as NewObject) ?? storageOf(value as NewObject, paths));
      keep(FORM.strong, utf16(named));
    } else if (element?.kind === 'strong') {
      const named = mangled(name, pid, 22);
      const members = value as readonly NewObject[];
      members.forEach((one, i) => {
        storages.set(`${named}{${i.toString(16)}}`, storageOf(one, paths));
      });
      const set = type.kind === 'set';
      beside.set(`${named} index`, set ? setIndex(members) : vectorIndex(members.length));
      keep(set ? FORM.strongSet : FORM.strongVector, utf16(named));
    } else if (type.kind === 'weak')
      keep(FORM.weak, joined([int(paths.placeOf(type.path ?? []), 2), ...keyOf(type), auid(value as string)]));
    else if (element?.kind === 'weak') {
      const named = mangled(name, pid, 32);
      const members = value as readonly string[];
      const place = int(paths.placeOf(element.path ?? []), 2);
      beside.set(`${named} index`, joined([int(members.length, 4), place, ...keyOf(element), ...members.map(auid)]));
      keep(FORM.weakVector, utf16(named));
    } else keep(FORM.data, bytesOf(type, value));
  }
  return { classId, storages, streams: beside.set('properties', propertiesOf(stored)) };
}

interface Stored {
  readonly pid: number;
  readonly form: number;
  readonly data: Uint8Array;
}

/** The stream of properties: the byte order, their number, of each its id, form and length, and all values one after the other. */
function propertiesOf(stored: readonly Stored[]): Uint8Array {
  let at = 4 + 6 * stored.length;
  const bytes = new Uint8Array(stored.reduce((sum, p) => sum + p.data.length, at));
  const view = new DataView(bytes.buffer);
  view.setUint16(0, 0x204c, true);
  view.setUint16(2, stored.length, true);
  stored.forEach(({ pid, form, data }, i) => {
    view.setUint16(4 + 6 * i, pid, true);
    view.setUint16(6 + 6 * i, form, true);
    view.setUint16(8 + 6 * i, data.length, true);
    bytes.set(data, at);
    at += data.length;
  });
  return bytes;
}

interface Layout {
  readonly classId: Uint8Array;
  readonly properties: ReadonlyMap<string, { readonly pid: number; readonly type: BaselineType }>;
  /** The property that says who an object is, and how many bytes it has. */
  readonly key: { readonly name: string; readonly pid: number } | null;
}
const layouts = new Map<string, Layout>();

/** What a class has, with what it has of the classes it is one of. */
function layoutOf(name: string): Layout {
  const known = layouts.get(name);
  if (known) return known;
  const own = classes.get(name);
  if (!own) throw new Error(`there is no class ${name}`);
  const above = own.parent === null ? null : layoutOf(own.parent);
  const mine = own.properties.map(([n, , pid, type]) => [n, { pid, type: types.get(type) as BaselineType }] as const);
  const unique = own.properties.find((p) => p[5]);
  const made: Layout = {
    classId: auid(own.id),
    properties: new Map([...(above?.properties ?? []), ...mine]),
    key: unique ? { name: unique[0], pid: unique[2] } : (above?.key ?? null),
  };
  layouts.set(name, made);
  return made;
}

/** What a weak reference is looked up by, and how many bytes that has. */
function keyOf({ of }: BaselineType): (number[] | Uint8Array)[] {
  const referred = CLASSES.find((c) => c.id === of);
  const pid = referred ? (layoutOf(referred.name).key?.pid ?? 0) : 0;
  return [int(pid, 2), [16]];
}

/** How many there are, the next number that is free, the last, and the number of each. */
function vectorIndex(count: number): Uint8Array {
  const bytes = new Uint8Array(12 + 4 * count);
  const view = new DataView(bytes.buffer);
  [count, count, 0xffffffff].forEach((value, i) => {
    view.setUint32(4 * i, value, true);
  });
  for (let i = 0; i < count; i++) view.setUint32(12 + 4 * i, i, true);
  return bytes;
}

function setIndex(members: readonly NewObject[]): Uint8Array {
  const [first] = members;
  const key = first ? layoutOf(first.is).key : null;
  const keys = members.map((one) => {
    const text = String(one.has[key?.name ?? '']);
    return text.length === 64 ? hex(text) : auid(text);
  });
  const size = keys[0]?.length ?? 16;
  const count = int(members.length, 4);
  return joined([count, count, int(0xffffffff, 4), int(key?.pid ?? 0, 2), [size], ...keys.flatMap((k, i) => [int(i, 4), int(1, 4), k])]);
}

/** The bytes of a value of a type. */
function bytesOf(type: BaselineType, value: Value): Uint8Array {
  const of = type.of === undefined ? undefined : types.get(type.of);
  switch (type.kind) {
    case 'integer':
      return Uint8Array.from(int(Number(value), type.size ?? 4));
    case 'enumeration':
    case 'rename':
      return bytesOf(of as BaselineType, typeof value === 'boolean' ? Number(value) : value);
    case 'extended':
      return auid(value as string);
    case 'string':
      return utf16(value as string);
    case 'record':
      if (type.name === 'AUID') return auid(value as string);
      if (type.name === 'MobIDType') return hex(value as string);
      return parts(type, value as readonly number[]);
    case 'array':
    case 'set':
      // Texts lie one after the other, each with its zero.
      if (of?.kind === 'character') return joined((value as readonly string[]).map(utf16));
      return joined((value as readonly (number | string)[]).map((one) => (of ? bytesOf(of, one) : [])));
    case 'indirect': {
      const carried = value as { readonly type: string; readonly value: Value };
      const its = typeNamed(carried.type);
      return joined([[0x4c], auid(its.id), bytesOf(its, carried.value)]);
    }
    default:
      throw new Error(`${type.name} is not written`);
  }
}

/** A record from a list of its numbers; a record in it takes as many as it has. */
function parts(type: BaselineType, values: readonly number[]): Uint8Array {
  const left = [...values];
  const take = (one: BaselineType): Uint8Array =>
    one.kind === 'record' ? joined((one.types ?? []).map((id) => take(types.get(id) as BaselineType))) : bytesOf(one, left.shift() ?? 0);
  return take(type);
}

/** Names of storages have at most 31 letters: the middle of longer ones is left out. */
function mangled(name: string, pid: number, size: number): string {
  const id = pid.toString(16);
  const most = size - id.length - 2;
  const half = most >> 1;
  const short = name.length <= most ? name : `${name.slice(0, half)}-${name.slice(name.length - (most - half) + 1)}`;
  return `${short}-${id}`;
}

/** A whole number, its low byte first; below zero as its complement. */
function int(value: number, size: number): number[] {
  const bytes: number[] = [];
  let left = value;
  for (let i = 0; i < size; i++) {
    const byte = ((left % 256) + 256) % 256;
    bytes.push(byte);
    left = (left - byte) / 256;
  }
  return bytes;
}

/** A text with the zero at its end. */
function utf16(text: string): Uint8Array {
  const bytes = new Uint8Array(2 * text.length + 2);
  for (let i = 0; i < text.length; i++) {
    const letter = text.charCodeAt(i);
    bytes[2 * i] = letter & 0xff;
    bytes[2 * i + 1] = letter >> 8;
  }
  return bytes;
}

const hex = (digits: string): Uint8Array =>
  Uint8Array.from({ length: digits.length / 2 }, (_, i) => Number.parseInt(digits.slice(2 * i, 2 * i + 2), 16));

/** The few definitions that all objects refer to are stored again and again. */
const auids = new Map<string, Uint8Array>();

/** An AUID as it is stored: three numbers with their low byte first, then eight bytes. */
export function auid(id: string): Uint8Array {
  const known = auids.get(id);
  if (known) return known;
  const bytes = hex(id.replaceAll('-', ''));
  const made = Uint8Array.from([3, 2, 1, 0, 5, 4, 7, 6, 8, 9, 10, 11, 12, 13, 14, 15], (i) => bytes[i] ?? 0);
  if (auids.size < 500) auids.set(id, made);
  return made;
}

function joined(all: readonly (readonly number[] | Uint8Array)[]): Uint8Array {
  const bytes = new Uint8Array(all.reduce((sum, one) => sum + one.length, 0));
  let at = 0;
  for (const one of all) {
    bytes.set(one, at);
    at += one.length;
  }
  return bytes;
}
