import type { Transition } from '../../edit';
import { clipOf, pulledOf } from './clips';
import { effectOf } from './effects';
import { classOf, OPERATIONS, PID } from './model';
import { type AafObject, childAt, childrenAt, definitionAt, intAt } from './object';
import { numberOf } from './parameters';
import { between, emptyPiece, fromOn, type Layers, nameIn, type Piece, type Walk } from './pieces';
import { AAF_WORDS } from './wording';

/** Nests deeper than this are not opened: no cut is, and a circle would be. */
const DEEPEST = 24;

/** The layers of a segment that begins at `at`. Pieces that a transition joins meet where it cuts. */
export function layersOf(w: Walk, segment: AafObject | null, at: number, depth = 0): Layers {
  if (!segment || depth > DEEPEST) return [];
  const length = Math.max(0, intAt(segment, PID.length) ?? 0);
  const empty = emptyPiece(at, at + length);
  const inner = (inside: AafObject | null) => layersOf(w, inside, at, depth + 1);
  switch (classOf(segment)) {
    case 'Sequence':
      return sequenceOf(w, segment, at, depth);
    case 'Filler':
      return [[empty]];
    case 'ScopeReference':
      return [[referenceOf(w, segment, empty)]];
    case 'SourceClip':
      return clipOf(w, segment, empty, depth);
    case 'OperationGroup':
      return effectOf(w, segment, empty, depth);
    case 'NestedScope':
      return scopeOf(childrenAt(segment, PID.scopeSlots).found.map(inner), empty);
    case 'Selector':
      return selectorOf(w, segment, inner);
    case 'EssenceGroup':
      return inner(childrenAt(segment, PID.choices).found[0] ?? null);
    case 'Pulldown':
      return pulledOf(w, segment, empty, depth);
    default:
      w.say('lost', 'unknown-part', AAF_WORDS.unknownPart({ what: segment.classId || 'none' }));
      return [[empty]];
  }
}

/**
 * A reference to another slot of a scope. The one below is seen through an empty place, since each slot is a layer; one further down is
 * put in its place by the scope that holds both (AAF Object Specification, ScopeReference: RelativeScope counts scopes outwards,
 * RelativeSlot slots before that of the reference).
 */
function referenceOf({ say }: Walk, reference: AafObject, empty: Piece): Piece {
  const [scope, slot] = [intAt(reference, PID.relativeScope) ?? 0, intAt(reference, PID.relativeSlot) ?? 1];
  if (slot <= 1) return empty;
  if (scope === 0) return { ...empty, refersTo: slot };
  say('lost', 'scope-reference', AAF_WORDS.scopeReference({ scope, slot }));
  return empty;
}

/** Slots of a scope above each other, each over the length of the scope; references to other slots show what those show. */
function scopeOf(slots: readonly Layers[], { in: from, out: to }: Piece): Layers {
  /** What is seen of a slot from one place to another, with nothing below it. */
  const seen = (index: number, start: number, end: number): Piece[] =>
    (slots[index]?.[0] ?? []).flatMap((piece) =>
      between([piece], start, end).flatMap((p) => {
        if (p.show) return [p];
        const below = index - (p.refersTo ?? 1);
        return below >= 0 ? seen(below, p.in, p.out) : [p];
      }),
    );
  return slots.flatMap((layers, index) =>
    layers.map((pieces) =>
      between(
        pieces.flatMap((p) => (p.refersTo === null ? [p] : seen(index - p.refersTo, p.in, p.out))),
        from,
        to,
      ),
    ),
  );
}

/** What is selected; where that is nothing, its one alternate, which is switched off (files of the outside collection). */
function selectorOf(w: Walk, selector: AafObject, inner: (inside: AafObject | null) => Layers): Layers {
  const { found: alternates } = childrenAt(selector, PID.alternates);
  const selected = childAt(selector, PID.selected);
  const [only, ...others] = alternates;
  if (selected && only && others.length === 0 && ['Filler', 'ScopeReference'].includes(classOf(selected)))
    return inner(only).map((pieces) => pieces.map((p) => ({ ...p, enabled: false })));
  const layers = inner(selected);
  if (alternates.length > 0) w.say('kept', 'alternates', AAF_WORDS.alternates({ clip: nameIn(layers), alternates: alternates.length }));
  return layers;
}

type Join = Omit<Transition, 'from'> & { readonly cut: number };

/** Parts that follow each other; a transition takes its length from both sides, and they meet at its cut point. */
function sequenceOf(w: Walk, sequence: AafObject, from: number, depth: number): Layers {
  const { found, missing } = childrenAt(sequence, PID.components);
  if (missing > 0) w.say('lost', 'missing-parts', AAF_WORDS.missingParts({ what: 'a track', missing }));
  const layers: Piece[][] = [[]];
  let at = from;
  let join: Join | null = null;
  for (const part of found) {
    const length = Math.max(0, intAt(part, PID.length) ?? 0);
    if (classOf(part) === 'Transition') {
      at -= length;
      join = joinOf(w, part, length);
      continue;
    }
    const made = layersOf(w, part, at, depth + 1);
    if (join) joined(layers, made, at + join.cut, join);
    else for (const [i, pieces] of made.entries()) append(layers, i, pieces);
    join = null;
    at += length;
  }
  return layers;
}

/** One by one: a track may hold more pieces than a call takes arguments. */
function append(layers: Piece[][], index: number, pieces: readonly Piece[]): void {
  for (let i = layers.length; i <= index; i++) layers.push([]);
  const into = layers[index] as Piece[];
  for (const piece of pieces) into.push(piece);
}

/** Lets parts meet where a transition cuts: it joins the lowest layers, those above are cut there. */
function joined(layers: Piece[][], made: Layers, cut: number, { cut: before, ...transition }: Join): void {
  for (const pieces of layers) {
    while (pieces.length > 0 && (pieces.at(-1) as Piece).in >= cut) pieces.pop();
    const last = pieces.at(-1);
    if (last && last.out > cut) pieces[pieces.length - 1] = { ...last, out: cut };
  }
  made.forEach((pieces, i) => {
    // What ends where the transition cuts is kept for the transition, as an empty stretch.
    const end = pieces.at(-1);
    const [first, ...rest] = i === 0 && end?.out === cut ? [{ ...end, in: cut, lead: end.lead + cut - end.in }] : fromOn(pieces, cut);
    if (first) append(layers, i, [i === 0 ? { ...first, join: { ...transition, before } } : first, ...rest]);
  });
}

function joinOf({ contents, say }: Walk, transition: AafObject, length: number): Join {
  const group = childAt(transition, PID.transitionOperation);
  const id = group ? definitionAt(group, PID.operation) : '';
  const name = contents.operations.get(id) ?? '';
  const cut = Math.min(length, Math.max(0, intAt(transition, PID.cutPoint) ?? 0));
  const made = { duration: length, before: cut, cut, wipeCode: null };
  if (/wipe/i.test(name) || id === OPERATIONS.wipe) {
    const number = group ? numberOf(contents, group, /wipe ?number/i) : null;
    return { ...made, type: 'wipe', wipeCode: number === null ? null : String(Math.round(number)).padStart(3, '0') };
  }
  if (!/dissolve/i.test(name) && id !== OPERATIONS.dissolve)
    say('changed', 'transition', AAF_WORDS.transition({ effect: name || id || 'no name' }));
  return { ...made, type: 'dissolve' };
}
