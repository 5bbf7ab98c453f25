import { auidIn, type Storage, u16, u32 } from './compound';

/** A stored property: how it is stored, and its bytes (AAF Stored Format Specification 1.0, "property value stream"). */
interface Property {
  readonly form: number;
  readonly data: Uint8Array;
}

/** An object of the file: its class, and where each of its properties stands in its stream. */
export interface AafObject {
  readonly classId: string;
  readonly storage: Storage;
  /** Of each property its local id, how it is stored, and where it begins and ends: numbers in turn, since most objects are asked for few. */
  readonly places: readonly number[];
  /** The objects that were put in order, by the property that holds them: a clip that many events use is followed without looking it up anew. */
  ordered: Map<number, Children> | null;
}

/** How strong references and weak references are stored. */
const FORM = { strong: 0x22, strongVector: 0x32, strongSet: 0x3a, weak: 0x02 } as const;
/** The byte that says that numbers have their low byte first. */
const LITTLE = 0x4c;

/** The object that a storage holds. One without properties, or whose lengths lie, has those that fit. */
export function objectOf(storage: Storage): AafObject {
  if (storage.made) return storage.made as AafObject;
  const places: number[] = [];
  const stream = storage.properties;
  if (stream.length >= 4 && stream[0] === LITTLE) {
    const count = u16(stream, 2);
    let at = 4 + count * 6;
    for (let i = 4; i < 4 + count * 6 && i + 6 <= stream.length; i += 6) {
      const end = at + u16(stream, i + 4);
      if (end > stream.length) break;
      places.push(u16(stream, i), u16(stream, i + 2), at, end);
      at = end;
    }
  }
  const made: AafObject = { classId: storage.classId, storage, places, ordered: null };
  storage.made = made;
  return made;
}

const i32 = (b: Uint8Array, at: number): number => u32(b, at) | 0;

/** The first of the four numbers of a property; -1 where the object has none such. */
function placeOf({ places }: AafObject, id: number): number {
  for (let i = 0; i < places.length; i += 4) if (places[i] === id) return i;
  return -1;
}

function propertyAt(object: AafObject, id: number): Property | undefined {
  const i = placeOf(object, id);
  const { places } = object;
  return i < 0 ? undefined : { form: places[i + 1] as number, data: object.storage.properties.subarray(places[i + 2], places[i + 3]) };
}

/** The bytes of a property as they are stored; null where there are fewer than `least`. */
export function bytesAt(object: AafObject, id: number, least: number): Uint8Array | null {
  const data = propertyAt(object, id)?.data;
  return data && data.length >= least ? data : null;
}

/** A text: UTF-16, up to its first zero; empty where there is none. */
export function textAt(object: AafObject, id: number): string {
  const data = propertyAt(object, id)?.data;
  return data ? textOf(data) : '';
}

const LETTERS = new TextDecoder('utf-16le');
/** A decoder takes longer to begin than a name takes: those of so many bytes are put together here, unless a letter takes two units. */
const SHORT = 256;

export function textOf(data: Uint8Array): string {
  if (data.length > SHORT) {
    const text = LETTERS.decode(data.subarray(0, data.length - (data.length % 2)));
    const end = text.indexOf('\0');
    return end < 0 ? text : text.slice(0, end);
  }
  let text = '';
  for (let i = 0; i + 1 < data.length; i += 2) {
    const unit = (data[i] as number) | ((data[i + 1] as number) << 8);
    if (unit === 0) break;
    if (unit >= 0xd800 && unit < 0xe000) return LETTERS.decode(data.subarray(0, data.length - (data.length % 2))).split('\0')[0] as string;
    text += String.fromCharCode(unit);
  }
  return text;
}

/** A whole number of 1, 2, 4 or 8 bytes, as many as are stored; null where there is none, or it is beyond what can be counted. */
export function intAt(object: AafObject, id: number): number | null {
  const i = placeOf(object, id);
  if (i < 0) return null;
  const [at, end] = [object.places[i + 2] as number, object.places[i + 3] as number];
  const stream = object.storage.properties;
  if (end - at >= 8) {
    const value = i32(stream, at + 4) * 2 ** 32 + u32(stream, at);
    return Number.isSafeInteger(value) ? value : null;
  }
  if (end - at >= 4) return i32(stream, at);
  return end - at >= 2 ? u16(stream, at) : (stream[at] ?? null);
}

/** A rational: numerator and denominator; null where there is none, or it has no value. */
export function rationalAt(object: AafObject, id: number): { num: number; den: number } | null {
  const data = bytesAt(object, id, 8);
  return data && rationalOf(data);
}

export function rationalOf(data: Uint8Array): { num: number; den: number } | null {
  if (data.length < 8) return null;
  const [num, den] = [i32(data, 0), i32(data, 4)];
  return den === 0 ? null : { num, den };
}

/** Where the bytes of a property begin in its object's stream; -1 where it has fewer than `least`. */
function beginsAt(object: AafObject, id: number, least: number): number {
  const i = placeOf(object, id);
  if (i < 0) return -1;
  const [at, end] = [object.places[i + 2] as number, object.places[i + 3] as number];
  return end - at >= least ? at : -1;
}

/** The identity of a mob, as a text of its 32 bytes; null where there is none, empty where it is all zeros (no mob). */
export function mobIdAt(object: AafObject, id: number): string | null {
  const at = beginsAt(object, id, 32);
  if (at < 0) return null;
  const stream = object.storage.properties;
  let text = '';
  let any = 0;
  for (let i = at; i < at + 32; i += 2) {
    const unit = u16(stream, i);
    any |= unit;
    text += String.fromCharCode(unit);
  }
  return any === 0 ? '' : text;
}

/** The AUID that is stored as a value; empty where there is none. */
export function auidAt(object: AafObject, id: number): string {
  const at = beginsAt(object, id, 16);
  return at < 0 ? '' : auidIn(object.storage.properties, at);
}

/** The AUID of the definition that a weak reference names: after its tag, the id and the size of its key. */
export function definitionAt(object: AafObject, id: number): string {
  const at = beginsAt(object, id, 21);
  return at < 0 || object.places[placeOf(object, id) + 1] !== FORM.weak ? '' : auidIn(object.storage.properties, at + 5);
}

/** The object that another holds; null where there is none. */
export function childAt(object: AafObject, id: number): AafObject | null {
  const property = propertyAt(object, id);
  if (property?.form !== FORM.strong) return null;
  const storage = object.storage.storages.get(textOf(property.data));
  return storage ? objectOf(storage) : null;
}

/** The objects of a vector or a set that another holds, in their order. Those that are missing are left out, and counted. */
export function childrenAt(object: AafObject, id: number): Children {
  const known = object.ordered?.get(id);
  if (known) return known;
  const property = propertyAt(object, id);
  if (!property) return NONE;
  const made = childrenOf(object, property);
  object.ordered ??= new Map();
  object.ordered.set(id, made);
  return made;
}

interface Children {
  readonly found: readonly AafObject[];
  readonly missing: number;
}
const NONE: Children = { found: [], missing: 0 };
function childrenOf(object: AafObject, property: Property): Children {
  if (property.form !== FORM.strongVector && property.form !== FORM.strongSet) return NONE;
  const name = textOf(property.data);
  const index = object.storage.indices.get(name);
  if (!index || index.length < 12) return { found: [], missing: name === '' ? 0 : 1 };
  const count = u32(index, 0);
  const set = property.form === FORM.strongSet;
  // A set says what its members are known by: each entry has a key, how often it is referred to, and that.
  const [first, each] = set && index.length >= 15 ? [15, 8 + (index[14] as number)] : [12, 4];
  const found: AafObject[] = [];
  let missing = 0;
  for (let i = 0; i < count; i++) {
    const at = first + i * each;
    if (at + 4 > index.length) {
      missing += count - i;
      break;
    }
    const storage = object.storage.storages.get(`${name}{${u32(index, at).toString(16)}}`);
    if (storage) found.push(objectOf(storage));
    else missing++;
  }
  return { found, missing };
}

/** The ids of the vectors and sets of objects that an object holds. */
export function vectorsOf({ places }: AafObject): number[] {
  const found: number[] = [];
  for (let i = 0; i < places.length; i += 4)
    if (places[i + 1] === FORM.strongVector || places[i + 1] === FORM.strongSet) found.push(places[i] as number);
  return found;
}

/** A value that carries its own type (indirect): after the byte order and the AUID of the type, its bytes. */
export function indirectAt(object: AafObject, id: number): Uint8Array | null {
  return bytesAt(object, id, 17)?.subarray(17) ?? null;
}
