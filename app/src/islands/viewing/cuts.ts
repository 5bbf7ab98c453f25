import type { Decision, Original } from '@gemello/core';
import {
  type Conform,
  compile,
  type Frame,
  type Part,
  partsOf,
  partsWithout,
  pictureAt,
  referencePart,
  wholePart,
} from '@gemello/core/conform';
import { tryDecisions } from '@gemello/core/decisions';
import { LRUCache } from 'lru-cache';
import type { ConformView } from '../../contract/ledger';

/**
 * What a side of the viewer shows: the reference; the cut as it stands, or with something more decided, some layers left out by name; the original of an event by
 * itself, whole and ungraded; another version of the cut.
 */
export type Seen =
  | { readonly of: 'reference' }
  | { readonly of: 'conform'; readonly tried?: readonly Decision[]; readonly without?: readonly string[] }
  | { readonly of: 'original'; readonly event: string }
  | { readonly of: 'version'; readonly list: string };

/** What is tried at once: the two sides of a cut that is dragged, and a few before it. */
const TRIALS = 4;

export interface Cuts {
  /** Takes the cut as it is shown now. */
  load(view: ConformView | null): void;
  /** Takes another version of it, under the name of its list. */
  lay(list: string, view: ConformView | null): void;
  /** Takes originals that the cut does not use yet, and what changes when their pictures do. */
  learn(originals: readonly Original[], looks: Readonly<Record<string, string>>): void;
  /** The parts of what a side shows at a record frame that are seen, from the bottom up. */
  partsAt(seen: Seen, frame: number): readonly Part[];
  lookOf(path: string): string;
  /** The frame of the cut that a side shows; null while there is none. */
  frameOf(seen: Seen): Frame | null;
  readonly conform: Conform | null;
}

interface Laid {
  readonly view: ConformView;
  readonly conform: Conform;
}

/** Holds the cuts that are looked at, compiled as the server compiles them (core/conform). */
export function openCuts(): Cuts {
  let now: Laid | null = null;
  let learned: readonly Original[] = [];
  let looks: Readonly<Record<string, string>> = {};
  const versions = new Map<string, Laid | null>();
  const trials = new LRUCache<string, Conform>({ max: TRIALS });

  const laid = (view: ConformView | null): Laid | null => view && { view, conform: compile(view.list, view.originals) };
  const tried = ({ view }: Laid, decisions: readonly Decision[]): Conform => {
    const name = JSON.stringify(decisions);
    const known = trials.get(name);
    if (known) return known;
    const originals = [...view.originals, ...learned];
    const frames = new Map(originals.map((o) => [o.path, o.kind === 'still' ? undefined : o.frames]));
    const made = compile(tryDecisions(view.list, decisions, (path) => frames.get(path)).list, originals);
    trials.set(name, made);
    return made;
  };
  const conformOf = (seen: Seen): Conform | null => {
    if (seen.of === 'version') return versions.get(seen.list)?.conform ?? null;
    if (seen.of === 'conform' && seen.tried && now) return tried(now, seen.tried);
    return now?.conform ?? null;
  };

  return {
    load(view) {
      now = laid(view);
      trials.clear();
    },
    lay: (list, view) => versions.set(list, laid(view)),
    learn(originals, theirs) {
      learned = originals;
      looks = theirs;
      trials.clear();
    },
    partsAt(seen, frame) {
      if (seen.of === 'reference') {
        const reference = now?.view.reference;
        const part = reference && referencePart(reference.movie, reference.lay, frame);
        return part ? [part] : [];
      }
      const conform = conformOf(seen);
      if (!conform) return [];
      const shift = seen.of === 'version' ? (versions.get(seen.list)?.view.shift ?? 0) : 0;
      // Both sides may be of one cut: each has its parts to itself.
      const parts = partsOf(pictureAt(conform, frame - shift));
      if (seen.of === 'original') return parts.flatMap(alone(seen.event)).slice(-1);
      const { without = [] } = seen.of === 'conform' ? seen : {};
      return partsWithout(conform, parts, without);
    },
    lookOf: (path) =>
      now?.view.looks[path] ?? looks[path] ?? [...versions.values()].find((v) => v?.view.looks[path])?.view.looks[path] ?? '',
    frameOf: (seen) => conformOf(seen)?.frame ?? null,
    get conform() {
      return now?.conform ?? null;
    },
  };
}

/** The original of an event by itself, ungraded, at the frame that stands there; through what it is viewed through, to be held against others. */
const alone =
  (event: string) =>
  ({ shot, sourceFrame }: Part): Part[] =>
    shot.event.key === event && shot.original ? [wholePart(shot.original, sourceFrame, null, shot.viewing)] : [];
