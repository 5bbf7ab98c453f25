import { cardOf, looseName, looseReel, NAME_FORMS, namesReel, type Original, slateKey, slateOf, withoutExtension } from '../originals';
import { newShelf, putOn, type Shelf } from './shelf';

/** Originals by what may lead an event to them. */
export interface OriginalIndex {
  /** Where they are looked up, one after the other: all that there were, then what was added. */
  readonly layers: readonly Layer[];
  /** Paths that are in a layer and are no longer there, or are there anew in a later one. */
  readonly gone: ReadonlySet<string>;
}

export interface Layer {
  readonly byPath: ReadonlyMap<string, Original>;
  readonly reels: ReadonlyMap<string, Shelf>;
  readonly names: ReadonlyMap<string, readonly Original[]>;
  /** By the first eight characters of a name or reel, as classic lists cut them, in lower case. */
  readonly beginnings: ReadonlyMap<string, Shelf>;
  /** By as many first characters as a person said; made when they are first asked for. */
  readonly cut: Map<string, ReadonlyMap<string, Shelf>>;
  readonly originals: readonly Original[];
  all: Shelf | null;
}

/** Makes the index that events are paired by. Sound is left out: events of the picture need none. */
export function indexOriginals(originals: readonly Original[]): OriginalIndex {
  return { layers: [layerOf(originals)], gone: NOTHING };
}

/** The original at a path; undefined where there is none. */
export function originalAt({ layers, gone }: OriginalIndex, path: string): Original | undefined {
  for (let at = layers.length - 1; at > 0; at--) {
    const found = layers[at]?.byPath.get(path);
    if (found) return found;
  }
  return gone.has(path) ? undefined : layers[0]?.byPath.get(path);
}

const NOTHING: ReadonlySet<string> = new Set();

/** All originals of an index. */
export function* recordsOf({ layers, gone }: OriginalIndex): Generator<Original> {
  for (const [at, layer] of layers.entries())
    for (const original of layer.originals) if (at > 0 || !gone.has(original.path)) yield original;
}

/** Above so many changes an index is made anew. */
const MOST_LAYERED = 2000;

/** The index with some originals added, or there anew, and others taken away. Costs next to nothing while they are few. */
export function withOriginals(index: OriginalIndex, added: readonly Original[], removed: readonly string[] = []): OriginalIndex {
  const [first, ...others] = index.layers as readonly [Layer, ...Layer[]];
  const later = new Map(others.flatMap((layer) => [...layer.byPath]));
  for (const path of removed) later.delete(path);
  for (const original of added) later.set(original.path, original);
  const gone = new Set([...index.gone, ...removed, ...added.map((o) => o.path)]);
  if (gone.size > MOST_LAYERED) return indexOriginals([...[...first.byPath.values()].filter((o) => !gone.has(o.path)), ...later.values()]);
  return { layers: [first, layerOf([...later.values()])], gone };
}

function layerOf(given: readonly Original[]): Layer {
  const byPath = new Map<string, Original>();
  for (const original of given) if (original.kind !== 'sound') byPath.set(original.path, original);
  const originals = [...byPath.values()];
  const reels = new Map<string, Shelf>();
  const names = new Map<string, Original[]>();
  const beginnings = new Map<string, Shelf>();
  for (const original of originals) {
    for (const key of reelKeys(original)) put(reels, key, original);
    for (const key of nameKeys(original)) {
      const known = names.get(key);
      if (known) known.push(original);
      else names.set(key, [original]);
    }
    for (const key of beginningsOf(original, NAME_FORMS.shortReel)) put(beginnings, key, original);
  }
  return { byPath, reels, names, beginnings, cut: new Map(), originals, all: null };
}

function put(shelves: Map<string, Shelf>, key: string, original: Original): void {
  let shelf = shelves.get(key);
  if (!shelf) {
    shelf = newShelf();
    shelves.set(key, shelf);
  }
  putOn(shelf, original);
}

/** A reel, and its card where it says more of that. */
export function reelKeys({ reel, path }: Pick<Original, 'reel' | 'path'>): readonly string[] {
  if (!namesReel(reel)) return path.split('/').slice(0, -1).slice(-3).map(looseReel);
  const whole = looseReel(reel);
  const card = cardOf(reel);
  return card === null ? [whole] : [whole, looseReel(card)];
}

/** The loose names an original is called by, and its scene and take; most clips are called like their file. */
export function nameKeys({ clipName, fileName, claims }: Pick<Original, 'clipName' | 'fileName' | 'claims'>): readonly string[] {
  const clip = looseName(clipName);
  const slate = slateOf({ claims });
  if (!slate && withoutExtension(fileName) === clipName) return clip === '' ? [] : [clip];
  return [...new Set([clip, looseName(fileName), slate ? slateKey(slate) : ''])].filter((key) => key !== '');
}

const beginningsOf = ({ clipName, fileName, reel }: Original, length: number): Set<string> =>
  new Set([clipName, fileName, reel].filter((name) => name.length > length).map((name) => name.slice(0, length).toLowerCase()));

/** The shelves of originals of which a name or the reel begins with so many characters. */
export function shelvesCut(layer: Layer, length: number): ReadonlyMap<string, Shelf> {
  if (length === NAME_FORMS.shortReel) return layer.beginnings;
  let made = layer.cut.get(`${length}`);
  if (!made) {
    const shelves = new Map<string, Shelf>();
    for (const original of layer.originals) for (const key of beginningsOf(original, length)) put(shelves, key, original);
    made = shelves;
    layer.cut.set(`${length}`, made);
  }
  return made;
}

/** All originals of a layer on one shelf. */
export function allOf(layer: Layer): Shelf {
  if (!layer.all) {
    layer.all = newShelf();
    for (const original of layer.originals) putOn(layer.all, original);
  }
  return layer.all;
}
