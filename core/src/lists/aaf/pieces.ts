import type { EventKind, Placement, Retime, Transition } from '../../edit';
import { type Frames, formatTimecode, fraction, type Rate, sameSpeed } from '../../time';
import type { Sentence } from '../../words';
import { type Chain, type Contents, chainOf, commentsOf, keptIn } from './chain';
import { classOf, EVENT_KIND, EVENT_NUMBER, HELD, OPERATIONS, PARAMETERS, PID } from './model';
import {
  type AafObject,
  auidAt,
  childAt,
  childrenAt,
  definitionAt,
  indirectAt,
  intAt,
  mobIdAt,
  rationalAt,
  rationalOf,
  textOf,
} from './object';
import { countedFrom, laidOver, placingOf, unplaced } from './placing';
import { type PulledDown, pulldownOf } from './pulldown';
import { framesHeld, passedOver } from './speeds';
import { AAF_WORDS } from './wording';

/** What a stretch of a track shows, once it is known from which of its frames on and how long it is seen. */
export interface Shown {
  readonly kind: EventKind;
  readonly clipName: string;
  readonly chain: Chain | null;
  readonly sourceRate: Rate;
  readonly source: { readonly in: Frames; readonly out: Frames };
  readonly sourceLabels: string;
  readonly retime: Retime;
  readonly placement: Placement | null;
  readonly notes: readonly string[];
  /** As the writer kept it; empty where none did. */
  readonly number: string;
}

/** A stretch of a track, in units of its slot; `lead` units of what it shows were taken from its head. */
export interface Piece {
  readonly in: number;
  readonly out: number;
  readonly lead: number;
  /** Null for an empty place. */
  readonly show: ((lead: number, length: number) => Shown) | null;
  readonly join: Omit<Transition, 'from'> | null;
}

/** What is needed to take a track apart. */
export interface Walk {
  readonly contents: Contents;
  readonly rate: Rate;
  readonly say: (severity: 'kept' | 'changed' | 'lost' | 'unreadable', code: string, said: Sentence) => void;
}

/** Nests deeper than this are not opened: no cut is, and a circle would be. */
const DEEPEST = 12;

/** The stretches of a segment that begins at `at`, in the order of the record. Those a transition joins meet where it cuts. */
export function piecesOf(w: Walk, segment: AafObject | null, at: number, depth = 0): Piece[] {
  if (!segment || depth > DEEPEST) return [];
  const length = Math.max(0, intAt(segment, PID.length) ?? 0);
  const empty: Piece = { in: at, out: at + length, lead: 0, show: null, join: null };
  const inner = (inside: AafObject | null) => piecesOf(w, inside, at, depth + 1);
  switch (classOf(segment)) {
    case 'Sequence':
      return sequenceOf(w, segment, at, depth);
    case 'Filler':
    case 'ScopeReference':
      return [empty];
    case 'SourceClip':
      return clipOf(w, segment, empty, depth);
    case 'OperationGroup':
      return effectOf(w, segment, empty, depth);
    case 'NestedScope': {
      const { found } = childrenAt(segment, PID.scopeSlots);
      if (found.length > 1) w.say('changed', 'nested-scope', AAF_WORDS.scope({ slots: found.length }));
      return inner(found.at(-1) ?? null);
    }
    case 'Selector': {
      const alternates = childrenAt(segment, PID.alternates).found.length;
      const pieces = inner(childAt(segment, PID.selected));
      if (alternates > 0) w.say('kept', 'alternates', AAF_WORDS.alternates({ clip: nameIn(pieces), alternates }));
      return pieces;
    }
    case 'EssenceGroup':
      return inner(childrenAt(segment, PID.choices).found[0] ?? null);
    case 'Pulldown':
      return pulledOf(w, segment, empty, depth);
    default:
      w.say('lost', 'unknown-part', AAF_WORDS.unknownPart({ what: segment.classId || 'none' }));
      return [empty];
  }
}

const nameIn = (pieces: readonly Piece[]): string => {
  const first = pieces.find((p) => p.show);
  return first?.show?.(0, 1).clipName || 'a clip';
};

/** Parts that follow each other; a transition takes its length from both sides, and they meet at its cut point. */
function sequenceOf(w: Walk, sequence: AafObject, from: number, depth: number): Piece[] {
  const { found, missing } = childrenAt(sequence, PID.components);
  if (missing > 0) w.say('lost', 'missing-parts', AAF_WORDS.missingParts({ what: 'a track', missing }));
  const pieces: Piece[] = [];
  let at = from;
  let join: (Omit<Transition, 'from'> & { cut: number }) | null = null;
  for (const part of found) {
    const length = Math.max(0, intAt(part, PID.length) ?? 0);
    if (classOf(part) === 'Transition') {
      at -= length;
      join = joinOf(w, part, length);
      continue;
    }
    const made = piecesOf(w, part, at, depth + 1);
    if (join) {
      const cut = at + join.cut;
      while (pieces.length > 0 && (pieces.at(-1) as Piece).in >= cut) pieces.pop();
      const last = pieces.at(-1);
      if (last && last.out > cut) pieces[pieces.length - 1] = { ...last, out: cut };
      const [first, ...rest] = fromOn(made, cut);
      const { cut: before, ...transition } = join;
      if (first) pieces.push({ ...first, join: { ...transition, before } }, ...rest);
    } else pieces.push(...made);
    join = null;
    at += length;
  }
  return pieces;
}

/** Stretches from a place on: what lies before it is taken from their heads. */
const fromOn = (pieces: readonly Piece[], place: number): Piece[] =>
  pieces.flatMap((p) => {
    if (p.out <= place) return [];
    return p.in >= place ? [p] : [{ ...p, in: place, lead: p.lead + place - p.in }];
  });
/** Stretches up to a place. */
const upTo = (pieces: readonly Piece[], place: number): Piece[] =>
  pieces.flatMap((p) => (p.in >= place ? [] : [p.out <= place ? p : { ...p, out: place }]));

function joinOf({ contents, say }: Walk, transition: AafObject, length: number): Omit<Transition, 'from'> & { cut: number } {
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

/** A constant parameter as a number, by the name that the dictionary gives it; null where it is none. */
function numberOf({ parameters }: Contents, group: AafObject, name: RegExp): number | null {
  for (const p of childrenAt(group, PID.parameters).found) {
    if (!name.test(parameters.get(auidAt(p, PID.parameterDefinition)) ?? '')) continue;
    const value = indirectAt(p, PID.constant);
    if (!value) return null;
    const rational = value.length === 8 ? rationalOf(value) : null;
    if (rational) return rational.num / rational.den;
    const view = new DataView(value.buffer, value.byteOffset, value.byteLength);
    return value.length >= 4 ? view.getInt32(0, true) : value.length >= 2 ? view.getUint16(0, true) : (value[0] ?? null);
  }
  return null;
}

/** What an effect is set to, to be read by a person: its constant numbers with their names. */
const valuesOf = (contents: Contents, group: AafObject): string =>
  childrenAt(group, PID.parameters)
    .found.flatMap((p) => {
      const [name, value] = [contents.parameters.get(auidAt(p, PID.parameterDefinition)), indirectAt(p, PID.constant)];
      const number = value?.length === 8 ? rationalOf(value) : null;
      return name && number && number.den !== 0 ? [`${name.replace('ParameterDef_', '')} ${number.num / number.den}`] : [];
    })
    .join(', ');

/** A clip, or the cut that it leads to, opened. */
function clipOf(w: Walk, clip: AafObject, empty: Piece, depth: number): Piece[] {
  const mob = mobIdAt(clip, PID.sourceId);
  if (!mob) return [empty];
  const [slot, start] = [intAt(clip, PID.sourceSlot) ?? 0, intAt(clip, PID.startTime) ?? 0];
  const notes = [...commentsOf(clip, PID.componentComments), ...commentsOf(clip, PID.componentAttributes)];
  const first = chainOf(w.contents, mob, slot, start, w.rate);
  if (first.nested) {
    const segment = childAt(first.nested.slot, PID.segment);
    const from = first.nested.at + (intAt(first.nested.slot, PID.origin) ?? 0);
    const inside = upTo(fromOn(piecesOf(w, segment, 0, depth + 1), from), from + empty.out - empty.in);
    return inside.map((p) => ({ ...p, in: p.in - from + empty.in, out: p.out - from + empty.in }));
  }
  tellFaults(w, first);
  const from = (lead: number) => (lead === 0 ? first : chainOf(w.contents, mob, slot, start + lead, w.rate));
  return [{ ...empty, show: (lead, length) => natural(w, from, lead, length, notes, keptIn(clip, EVENT_NUMBER)) }];
}

/** What is played through a pulldown in the cut itself: a clip, whose frames are counted as the pulldown does. */
function pulledOf(w: Walk, pulldown: AafObject, empty: Piece, depth: number): Piece[] {
  const [input, pulled] = [childAt(pulldown, PID.pulldownInput), pulldownOf(pulldown)];
  const mob = input && classOf(input) === 'SourceClip' ? mobIdAt(input, PID.sourceId) : null;
  if (!input || !mob || !pulled) {
    const pieces = piecesOf(w, input, empty.in, depth + 1).map((p) => ({ ...p, out: Math.min(p.out, empty.out) }));
    w.say('changed', 'pulldown', AAF_WORDS.unknownPulldown({ clip: nameIn(pieces) }));
    return pieces;
  }
  const [slot, start] = [intAt(input, PID.sourceSlot) ?? 0, intAt(input, PID.startTime) ?? 0];
  const notes = [...commentsOf(input, PID.componentComments), ...commentsOf(input, PID.componentAttributes)];
  const from = (lead: number): Chain => ({ ...chainOf(w.contents, mob, slot, start + pulled.under(lead), w.rate, true), pulled });
  tellFaults(w, from(0));
  return [{ ...empty, show: (lead, length) => natural(w, from, lead, length, notes, keptIn(input, EVENT_NUMBER)) }];
}

function tellFaults({ say }: Walk, chain: Chain): void {
  if (chain.faults.length === 0 && !chain.pulled && chain.timecode) return;
  const clip = chain.clipName || chain.fileName || 'a clip';
  if (chain.faults.includes('missingMob')) say('lost', 'missing-mob', AAF_WORDS.missingMob({ clip }));
  if (chain.faults.includes('circle')) say('unreadable', 'circle', AAF_WORDS.circle({ clip }));
  if (chain.faults.includes('betweenFrames')) say('changed', 'between-frames', AAF_WORDS.betweenFrames({ clip }));
  if (chain.faults.includes('pulldown')) say('changed', 'pulldown', AAF_WORDS.unknownPulldown({ clip }));
  if (chain.pulled) say('kept', 'pulldown', AAF_WORDS.pulldown({ clip, ...chain.pulled }));
  if (!chain.timecode && !chain.faults.includes('missingMob')) say('changed', 'no-timecode', AAF_WORDS.noTimecode({ clip }));
}

/** Units of the track as frames of a source. */
const sourceFrames = (w: Walk, length: number, rate: Rate): Frames =>
  sameSpeed(w.rate, rate) ? length : Math.ceil((length * rate.num * w.rate.den) / (rate.den * w.rate.num));

/** The frame of a source that a chain leads to: by its labels, else in its file. */
const frameOf = (chain: Chain): Frames => chain.timecode?.count ?? chain.position;

/** The frame after the last that is pulled down: where its frames are counted to, whatever the clock says; by its shares where the source is at its end there, or another. */
function pastPulled(first: Chain, { given, of }: PulledDown, end: Chain, length: number): Frames {
  const goesOn = end.pulled && end.reel === first.reel && end.mediaPath === first.mediaPath && !end.timecode === !first.timecode;
  return goesOn ? Math.max(frameOf(end), frameOf(first) + 1) : frameOf(first) + Math.ceil((length * of) / given);
}

/** A clip as it runs by itself, `length` units of the track from one of its places on; `chainAt` follows it from any. */
function natural(w: Walk, chainAt: (at: number) => Chain, at: number, length: number, notes: readonly string[], number: string): Shown {
  const chain = chainAt(at);
  const sourceRate = chain.timecode?.rate ?? chain.rate ?? w.rate;
  const first = frameOf(chain);
  const source = {
    in: first,
    out: chain.pulled ? pastPulled(chain, chain.pulled, chainAt(at + length), length) : first + sourceFrames(w, length, sourceRate),
  };
  return {
    kind: 'clip',
    clipName: chain.clipName,
    chain,
    sourceRate,
    source,
    sourceLabels: labelsOf(source, sourceRate),
    retime: { kind: 'natural' },
    placement: null,
    notes: notes.length > 0 ? [...notes, ...chain.notes] : chain.notes,
    number,
  };
}

const labelsOf = (source: Shown['source'], rate: Rate): string =>
  source.in < 0 ? `${source.in} ${source.out}` : `${formatTimecode(source.in, rate)} ${formatTimecode(source.out, rate)}`;

/** An effect: a speed is carried, of others the first picture is shown, and one that takes none makes its own. */
function effectOf(w: Walk, group: AafObject, empty: Piece, depth: number): Piece[] {
  const { contents, say } = w;
  const id = definitionAt(group, PID.operation);
  const name = contents.operations.get(id) || id || 'no name';
  const { found: inputs } = childrenAt(group, PID.inputs);
  const [input] = inputs;
  if (!input) {
    const kept = keptIn(group, EVENT_KIND);
    const kind = kept === 'bars' || kept === 'generator' ? kept : id === OPERATIONS.title || /title/i.test(name) ? 'title' : 'generator';
    const text = childrenAt(group, PID.parameters).found.find((p) => auidAt(p, PID.parameterDefinition) === PARAMETERS.titleText);
    const says = text && indirectAt(text, PID.constant);
    const source = { in: 0, out: empty.out - empty.in };
    const made: Shown = {
      ...{
        kind,
        clipName: says ? textOf(says) : name,
        chain: null,
        number: keptIn(group, EVENT_NUMBER),
        sourceRate: w.rate,
        source,
        sourceLabels: '',
      },
      ...{ retime: { kind: 'natural' }, placement: null, notes: commentsOf(group, PID.componentComments) },
    };
    return [{ ...empty, show: (_, length) => ({ ...made, source: { in: 0, out: length } }) }];
  }
  const isSpeed = id === OPERATIONS.speed || id === OPERATIONS.repeat || /speed|motion control|time ?warp/i.test(name);
  if (isSpeed) {
    const retimed = retimedOf(w, group, input, empty);
    if (retimed) return [retimed];
  }
  const pieces = piecesOf(w, input, empty.in, depth + 1).map((p) => ({ ...p, out: Math.min(p.out, empty.out) }));
  const placing = placingOf(group, empty.out - empty.in);
  if (placing?.uneven) say('changed', 'uneven-placement', AAF_WORDS.unevenPlacement({ clip: nameIn(pieces) }));
  if (placing) return pieces.map((p) => placedPiece(p, placing.placement, empty.in));
  if (isSpeed) say('changed', 'speed', AAF_WORDS.brokenSpeed({ clip: nameIn(pieces) }));
  else say('lost', 'effect', AAF_WORDS.effect({ effect: name, clip: nameIn(pieces), values: valuesOf(contents, group) }));
  if (inputs.length > 1) say('lost', 'inputs', AAF_WORDS.inputs({ effect: name, inputs: inputs.length }));
  return pieces;
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

/** A clip at another speed; null where the speed cannot be read, or what it is of is no clip. */
function retimedOf(w: Walk, group: AafObject, input: AafObject, empty: Piece): Piece | null {
  const { below, placement } = unplaced(input);
  const clip = classOf(below) === 'Sequence' ? childrenAt(below, PID.components).found[0] : below;
  const mob = clip && classOf(clip) === 'SourceClip' ? mobIdAt(clip, PID.sourceId) : null;
  const parameter = childrenAt(group, PID.parameters).found.find((p) => {
    const id = auidAt(p, PID.parameterDefinition);
    return id === PARAMETERS.speedRatio || /speed ?ratio/i.test(w.contents.parameters.get(id) ?? '');
  });
  if (!clip || !mob || !parameter) return null;
  const [slot, start, held] = [intAt(clip, PID.sourceSlot) ?? 0, intAt(clip, PID.startTime) ?? 0, intAt(clip, PID.length) ?? 0];
  const chainAt = (at: number) => chainOf(w.contents, mob, slot, at, w.rate);
  if (chainAt(start).nested) return null;
  tellFaults(w, chainAt(start));
  const notes = [...commentsOf(clip, PID.componentComments), ...commentsOf(group, PID.componentComments)];
  const number = keptIn(clip, EVENT_NUMBER);
  const with_ = (at: number, length: number, retime: Retime): Shown => ({
    ...natural(w, chainAt, at, length, notes, number),
    retime,
    placement,
  });
  if (classOf(parameter) === 'VaryingValue') {
    const length = empty.out - empty.in;
    const keys = keysOf(parameter, length);
    if (!keys) return null;
    w.say('changed', 'keyed-speed', AAF_WORDS.keyedSpeed({ clip: chainAt(start).clipName || 'a clip' }));
    return {
      ...empty,
      show(lead) {
        // Keys count from the event's record in: what a transition took from its head is before it.
        const ahead = Math.round(sourceAt(keys, lead));
        const from = keys.map((k) => ({ record: k.record - lead, source: k.source - ahead }));
        const kept = from[1]?.record === 0 ? from.slice(1) : from;
        const whole = Math.max(1, Math.ceil(Math.max(...kept.map((k) => k.source))));
        return with_(start + ahead, whole, { kind: 'keyed', keys: kept });
      },
    };
  }
  const value = indirectAt(parameter, PID.constant);
  const ratio = (value && rationalOf(value)) ?? rationalAt(parameter, PID.constant);
  if (!ratio) return null;
  if (ratio.num === 0) return { ...empty, show: () => with_(start, 1, { kind: 'freeze' }) };
  const speed = fraction(ratio.num, ratio.den);
  if (speed.num === speed.den) return { ...empty, show: (lead, length) => with_(start + lead, length, { kind: 'natural' }) };
  const retime: Retime = { kind: 'constant', speed };
  if (speed.num > 0) return { ...empty, show: (lead, length) => with_(start + passedOver(speed, lead), framesHeld(speed, length), retime) };
  // Backwards it begins with the last frame of what it is of.
  return {
    ...empty,
    show: (lead, length) => {
      const used = framesHeld(speed, length);
      return with_(start + held - passedOver(speed, lead) - used, used, retime);
    },
  };
}

type Keys = readonly { readonly record: number; readonly source: number }[];

/** How far the source has run at a place between two keys; before the first and after the last as between the two that are nearest. */
function sourceAt(keys: Keys, record: number): number {
  const next = Math.min(
    keys.length - 1,
    Math.max(
      1,
      keys.findIndex((k) => k.record > record),
    ),
  );
  const [a, b] = [keys[next - 1], keys[next]];
  if (!a || !b || b.record === a.record) return a?.source ?? 0;
  return a.source + ((record - a.record) * (b.source - a.source)) / (b.record - a.record);
}

/** Places of a speed that changes: how far the source has run at each of its points. Null where a point cannot be read. */
function keysOf(varying: AafObject, length: number): { record: number; source: number }[] | null {
  const points = childrenAt(varying, PID.points).found.map((p) => {
    const [time, value] = [rationalAt(p, PID.pointTime), indirectAt(p, PID.pointValue)];
    const speed = value && rationalOf(value);
    return time && speed ? { record: (time.num / time.den) * length, speed: speed.num / speed.den } : null;
  });
  const held = definitionAt(varying, PID.interpolation) === HELD;
  const all = points.filter((p) => p !== null);
  if (all.length < 2 || all.length !== points.length) return null;
  let source = (all[0]?.record ?? 0) * (all[0]?.speed ?? 1);
  return all.map((p, i) => {
    const before = all[i - 1];
    if (before) source += (p.record - before.record) * (held ? before.speed : (p.speed + before.speed) / 2);
    return { record: p.record, source };
  });
}
