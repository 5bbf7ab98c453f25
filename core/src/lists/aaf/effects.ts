import type { Placement } from '../../edit';
import { ZERO } from '../../time';
import { commentsOf, keptIn } from './chain';
import { EVENT_KIND, EVENT_NUMBER, OPERATIONS, PARAMETERS, PID } from './model';
import { type AafObject, auidAt, childrenAt, definitionAt, indirectAt, intAt, textOf } from './object';
import { valuesOf } from './parameters';
import { between, type Layers, movedBy, nameIn, type Piece, type Shown, showsNothing, type Walk } from './pieces';
import { countedFrom, laidOver, PLACED_BY, placingOf } from './placing';
import { retimedPieces } from './retimed';
import { isRepeat, isTimeWarp, readTimeRun } from './time-run';
import { AAF_WORDS } from './wording';

/** An effect: speeds and what is known of sizes are carried, of others the pictures are shown as they are, and one that takes none makes its own. */
export function effectOf(w: Walk, group: AafObject, empty: Piece, depth: number): Layers {
  const id = definitionAt(group, PID.operation);
  const name = w.contents.operations.get(id) || id || 'no name';
  const { found: inputs } = childrenAt(group, PID.inputs);
  const [input] = inputs;
  if (!input) return [[{ ...empty, show: generatedOf(w, group, name, id, empty) }]];
  if (isTimeWarp(id, name)) return timeWarpOf(w, group, input, empty, depth);
  const layers = picturesOf(w, name, inputs, empty, depth);
  const placing = placingOf(group, empty.out - empty.in);
  if (placing?.uneven) w.say('changed', 'uneven-placement', AAF_WORDS.unevenPlacement({ clip: nameIn(layers) }));
  const left = valuesOf(w.contents, group, placing ? PLACED_BY : undefined);
  if (!placing) w.say('lost', 'effect', AAF_WORDS.effect({ effect: name, clip: nameIn(layers), values: left }));
  else if (placing.partly && left !== '')
    w.say('lost', 'effect', AAF_WORDS.effectPartly({ effect: name, clip: nameIn(layers), values: left }));
  const carried = placing && !(placing.partly && left !== '');
  const named = carried
    ? layers
    : layers.map((pieces) => pieces.map((p) => changed(p, (shown) => ({ ...shown, effects: [...shown.effects, name] }))));
  // Of several pictures above each other it is the uppermost that is placed.
  return placing
    ? named.map((pieces, i) => (i === named.length - 1 ? pieces.map((p) => placedPiece(p, placing.placement, empty.in)) : pieces))
    : named;
}

/** What an effect without an input makes: a title, bars, or anything else that it generates. */
function generatedOf(w: Walk, group: AafObject, name: string, id: string, empty: Piece): NonNullable<Piece['show']> {
  const kept = keptIn(group, EVENT_KIND);
  const kind = kept === 'bars' || kept === 'generator' ? kept : id === OPERATIONS.title || /title/i.test(name) ? 'title' : 'generator';
  const text = childrenAt(group, PID.parameters).found.find((p) => auidAt(p, PID.parameterDefinition) === PARAMETERS.titleText);
  const says = text && indirectAt(text, PID.constant);
  const made: Shown = {
    kind,
    clipName: says ? textOf(says) : name,
    chain: null,
    sourceRate: w.rate,
    source: { in: 0, out: empty.out - empty.in },
    sourceLabels: '',
    retime: { kind: 'natural' },
    phase: ZERO,
    placement: null,
    notes: commentsOf(group, PID.componentComments),
    number: keptIn(group, EVENT_NUMBER),
    effects: [],
  };
  return (_, length) => ({ ...made, source: { in: 0, out: length } });
}

/**
 * The pictures that an effect takes, as layers: the first lies lowest. Those that only refer to what lies below, or are empty, are its
 * background and show nothing of their own. Of three whose first is the background, the last is the matte of the second (files of the
 * outside collection).
 */
function picturesOf(w: Walk, name: string, inputs: readonly AafObject[], empty: Piece, depth: number): Layers {
  const all = inputs.map((input) => w.layersOf(w, input, empty.in, depth + 1).map((pieces) => between(pieces, empty.in, empty.out)));
  const seen = all.filter((layers) => !showsNothing(layers));
  const matte = inputs.length === 3 && seen.length === 2 && seen[0] === all[1];
  if (matte) w.say('kept', 'matte', AAF_WORDS.matte({ effect: name, clip: nameIn(seen[0] ?? []) }));
  const shown = matte ? seen.slice(0, 1) : seen;
  if (shown.length > 1) w.say('changed', 'inputs', AAF_WORDS.inputs({ effect: name, inputs: shown.length }));
  return shown.length === 0 ? [[empty]] : shown.flat();
}

/** A stretch under an effect that begins at `from` and says how its picture is seen. */
function placedPiece(piece: Piece, placement: Placement, from: number): Piece {
  const { show } = piece;
  if (!show) return piece;
  const ahead = piece.in - from - piece.lead;
  return {
    ...piece,
    show(lead, length) {
      const shown = show(lead, length);
      return { ...shown, placement: laidOver(countedFrom(placement, ahead + lead), shown.placement) };
    },
  };
}

/** An input at another speed: all clips of it, each where the run comes by it. */
function timeWarpOf(w: Walk, group: AafObject, input: AafObject, empty: Piece, depth: number): Layers {
  const held = Math.max(0, intAt(input, PID.length) ?? 0);
  const length = empty.out - empty.in;
  const layers = w.layersOf(w, input, 0, depth + 1);
  if (isRepeat(group)) return layers.map((pieces) => repeated(pieces, held, empty));
  const read = readTimeRun(w.contents, group, length, held);
  if (!read) {
    w.say('changed', 'speed', AAF_WORDS.brokenSpeed({ clip: nameIn(layers) }));
    return layers.map((pieces) => movedBy(between(pieces, 0, length), empty.in));
  }
  const { run, supposed } = read;
  if (supposed === 'curve') w.say('changed', 'keyed-speed', AAF_WORDS.keyedSpeed({ clip: nameIn(layers) }));
  if (supposed === 'zero') w.say('changed', 'speed', AAF_WORDS.zeroSpeed({ clip: nameIn(layers) }));
  const notes = commentsOf(group, PID.componentComments);
  const unsaid = (why: 'speed-in-speed' | 'moving-placement', shown: Shown) =>
    why === 'speed-in-speed'
      ? w.say('changed', 'speed', AAF_WORDS.speedInSpeed({ clip: shown.clipName || 'a clip' }))
      : w.say('changed', 'uneven-placement', AAF_WORDS.heldPlacement({ clip: shown.clipName || 'a clip' }));
  return layers.map((pieces) => retimedPieces(run, pieces, empty.in, length, w.rate, unsaid).map((p) => withNotes(p, notes)));
}

/** Pieces over and over, as often as there is room for. */
function repeated(pieces: readonly Piece[], held: number, empty: Piece): Piece[] {
  const found: Piece[] = [];
  for (let at = empty.in; held > 0 && at < empty.out; at += held)
    found.push(...between(movedBy(between(pieces, 0, held), at), at, empty.out));
  return found;
}

const withNotes = (piece: Piece, notes: readonly string[]): Piece =>
  notes.length === 0 ? piece : changed(piece, (shown) => ({ ...shown, notes: [...shown.notes, ...notes] }));

/** A piece that shows what it showed, changed. */
const changed = (piece: Piece, by: (shown: Shown) => Shown): Piece => {
  const { show } = piece;
  return show ? { ...piece, show: (lead, length) => by(show(lead, length)) } : piece;
};
