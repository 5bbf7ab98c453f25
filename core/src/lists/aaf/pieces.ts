import type { EventKind, Placement, Retime, Transition } from '../../edit';
import type { Fraction, Frames, Rate } from '../../time';
import type { Sentence } from '../../words';
import type { Chain, Contents } from './chain';
import type { AafObject } from './object';

/** What a stretch of a track shows, once it is known from which of its frames on and how long it is seen. */
export interface Shown {
  readonly kind: EventKind;
  readonly clipName: string;
  readonly chain: Chain | null;
  readonly sourceRate: Rate;
  readonly source: { readonly in: Frames; readonly out: Frames };
  readonly sourceLabels: string;
  readonly retime: Retime;
  readonly phase: Fraction;
  readonly placement: Placement | null;
  readonly notes: readonly string[];
  /** As the writer kept it; empty where none did. */
  readonly number: string;
  /** Names of the effects on it that are not carried. */
  readonly effects: readonly string[];
}

/** A stretch of a layer, in units of its slot; `lead` units of what it shows were taken from its head. */
export interface Piece {
  readonly in: number;
  readonly out: number;
  readonly lead: number;
  /** Null for an empty place. */
  readonly show: ((lead: number, length: number) => Shown) | null;
  readonly join: Omit<Transition, 'from'> | null;
  /** False where the editor switched it off. */
  readonly enabled: boolean;
  /** How many slots below its own, in the same scope, the slot lies that is seen here; null where nothing is referred to. */
  readonly refersTo: number | null;
}

/** The layers of a segment, the lowest first; the pieces of each in the order of the record. */
export type Layers = readonly (readonly Piece[])[];

/** What is needed to take a track apart. */
export interface Walk {
  readonly contents: Contents;
  readonly rate: Rate;
  readonly say: (severity: 'kept' | 'changed' | 'lost' | 'unreadable', code: string, said: Sentence) => void;
  /** The layers of a segment that begins at `at`, `depth` segments below its slot. */
  readonly layersOf: (w: Walk, segment: AafObject | null, at: number, depth: number) => Layers;
}

export const emptyPiece = (from: number, to: number): Piece => ({
  in: from,
  out: to,
  lead: 0,
  show: null,
  join: null,
  enabled: true,
  refersTo: null,
});

/** A piece from a place on: what lies before it is taken from its head. Undefined where nothing is left. */
const pieceFrom = (p: Piece, place: number): Piece | undefined =>
  p.out <= place ? undefined : p.in >= place ? p : { ...p, in: place, lead: p.lead + place - p.in };

/** Pieces from a place on. */
export const fromOn = (pieces: readonly Piece[], place: number): Piece[] =>
  pieces.flatMap((p) => {
    const left = pieceFrom(p, place);
    return left ? [left] : [];
  });
/** Pieces up to a place, with the empty stretch that a transition at that place leads into. */
const upTo = (pieces: readonly Piece[], place: number): Piece[] =>
  pieces.flatMap((p) =>
    p.in >= place ? (p.join && p.in === place ? [{ ...p, out: place }] : []) : [p.out <= place ? p : { ...p, out: place }],
  );

/** Pieces within a stretch of the record. */
export const between = (pieces: readonly Piece[], from: number, to: number): Piece[] => upTo(fromOn(pieces, from), to);

/** Pieces moved along the record. */
export const movedBy = (pieces: readonly Piece[], by: number): Piece[] =>
  by === 0 ? [...pieces] : pieces.map((p) => ({ ...p, in: p.in + by, out: p.out + by }));

/** True where no layer shows anything of its own. */
export const showsNothing = (layers: Layers): boolean => layers.every((pieces) => pieces.every((p) => !p.show));

/** The name of the first thing that pieces show, for a person. */
export function nameIn(layers: Layers): string {
  for (const pieces of layers)
    for (const { show } of pieces) {
      const name = show?.(0, 1).clipName;
      if (name) return name;
    }
  return 'a clip';
}
