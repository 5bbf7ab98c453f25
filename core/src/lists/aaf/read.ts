import { type EditList, EMPTY_LIST, type ListEvent, type Marker, type Notice, newEvent, recordSpan, type Track } from '../../edit';
import { canDropFrames, type Frames, formatRate, lengthOf, nominal, RATES, type Rate, relabel } from '../../time';
import { allTold, noticeLog, tell } from '../notices';
import { type ListOptions, unreadableList } from '../options';
import { fileNameOfUrl } from '../paths';
import { type Contents, commentsOf, countAt, kindOf, namesIn, rateOfSlot, timecodeOf } from './chain';
import { openCompound } from './compound';
import { classOf, PID, TOP_LEVEL } from './model';
import { type AafObject, auidAt, bytesAt, childAt, childrenAt, intAt, mobIdAt, objectOf, textAt } from './object';
import type { Piece, Walk } from './pieces';
import { layersOf } from './segments';
import { AAF_WORDS } from './wording';

/**
 * Reads an AAF file (AMWA AAF Object and Stored Format Specifications): the cut of a composition, with what the chain of each clip says of its
 * source: its names, the file, the tape or the timecode it was recorded with. Damaged files are read as far as they go. Never throws on content.
 */
export function readAaf(bytes: Uint8Array, options: ListOptions = {}): EditList {
  const root = openCompound(bytes);
  if ('fault' in root) return unreadableList('aaf', AAF_WORDS.notWhole({ message: root.fault }));
  const header = childAt(objectOf(root), PID.header);
  const storage = header && childAt(header, PID.content);
  const { found, missing } = storage ? childrenAt(storage, PID.mobs) : { found: [], missing: 0 };
  const dictionary = header && childAt(header, PID.dictionary);
  const contents: Contents = {
    mobs: new Map(found.flatMap((mob) => [[mobIdAt(mob, PID.mobId) ?? '', mob] as const])),
    operations: namesIn(dictionary, PID.operationDefinitions),
    parameters: namesIn(dictionary, PID.parameterDefinitions),
    stops: new Map(),
  };
  const of = (kind: string) => found.filter((mob) => classOf(mob) === kind);
  const compositions = of('CompositionMob');
  const marked = compositions.filter((mob) => auidAt(mob, PID.usage) === TOP_LEVEL);
  // A file without a cut may still describe clips: each is then read as a cut of itself.
  const cuts = [marked, compositions, of('MasterMob')].find((mobs) => mobs.length > 0) ?? [];
  const chosen = cuts[options.sequence ?? 0] ?? cuts[0];
  if (!chosen) return unreadableList('aaf', AAF_WORDS.noComposition());
  const list = listOf(contents, chosen, options);
  const lost: Notice[] =
    missing > 0
      ? [{ severity: 'lost', code: 'missing-parts', place: null, event: null, ...AAF_WORDS.missingParts({ what: 'the file', missing }) }]
      : [];
  if (cuts.length < 2) return { ...list, notices: [...lost, ...list.notices] };
  const sequences = cuts.map((mob) => {
    const one = mob === chosen ? list : listOf(contents, mob, options);
    return { name: one.title, durationFrames: lengthOf(recordSpan(one)), events: one.tracks.reduce((sum, t) => sum + t.events.length, 0) };
  });
  const others = sequences.filter((_, i) => cuts[i] !== chosen).map((s) => `"${s.name}"`);
  const said = AAF_WORDS.severalCompositions({ compositions: cuts.length, title: list.title, others: others.join(', ') });
  const several: Notice = { severity: 'changed', code: 'several-sequences', place: null, event: null, ...said };
  return { ...list, sequences, notices: [several, ...lost, ...list.notices] };
}

function listOf(contents: Contents, mob: AafObject, options: ListOptions): EditList {
  const log = noticeLog();
  const say: Walk['say'] = (severity, code, said) => tell(log, { severity, code, place: null, event: null, ...said });
  const { found: slots, missing } = childrenAt(mob, PID.slots);
  if (missing > 0) say('lost', 'missing-parts', AAF_WORDS.missingParts({ what: 'the cut', missing }));
  const timelines = slots.filter((s) => classOf(s) === 'TimelineMobSlot');
  const timecode = timecodeOf(timelines);
  const counted = rateOfCut(timelines, timecode, say);
  const rate = options.rate ?? counted;
  if (!timecode) say('changed', 'start-assumed', AAF_WORDS.startAssumed());
  if (timecode?.dropRefused) say('changed', 'drop-refused', AAF_WORDS.dropRefused({ rate: formatRate(counted) }));
  if (classOf(mob) === 'MasterMob') say('changed', 'clip-as-cut', AAF_WORDS.clipAsCut({ clip: textAt(mob, PID.mobName) }));
  const first = timecode && countAt(timecode, 0, counted);
  const labelled = first ? relabelled({ start: first.count, rate: first.rate }, counted) : 0;
  const start = relabelled({ start: labelled, rate: counted }, rate);
  const ownName = classOf(mob) === 'MasterMob' ? textAt(mob, PID.mobName) : '';
  const tracks: Track[] = [];
  const bySlot = new Map<number, Track[]>();
  for (const { slot, segment, kind, number, name } of tracksIn(timelines, say)) {
    const units = rateOfSlot(slot) ?? counted;
    const origin = intAt(slot, PID.origin) ?? 0;
    const walk: Walk = { contents, rate: units, say, layersOf };
    const recordAt = (n: number): Frames =>
      start + (units === counted ? n : Math.round((n * counted.num * units.den) / (counted.den * units.num)));
    const layers = layersOf(walk, segment, -origin);
    const made = (layers.length > 0 ? layers : [[]]).map((pieces, layer): Track => {
      const called = layer === 0 ? name : layerName(name, kind, number + layer, layer);
      return { name: called, kind, events: eventsOf(pieces, called, recordAt, counted, tracks.length + layer, ownName) };
    });
    bySlot.set(intAt(slot, PID.slotId) ?? -1, made);
    tracks.push(...made);
  }
  const { tracks: marked, strays } = withMarkers(tracks, bySlot, markersOf(slots, start, counted));
  for (const { text } of strays) say('kept', 'marker', AAF_WORDS.markerElsewhere({ text }));
  return {
    ...EMPTY_LIST,
    format: 'aaf',
    title: textAt(mob, PID.mobName),
    rate: { ...rate, dropFrame: options.rate?.dropFrame ?? (first?.rate.dropFrame === true && canDropFrames(rate)) },
    start: timecode ? start : null,
    framing: options.raster ? { raster: options.raster, pixelAspect: null, fields: null } : null,
    tracks: marked,
    notes: [...commentsOf(mob, PID.mobComments), ...commentsOf(mob, PID.mobAttributes), ...strays.map((m) => m.text)],
    notices: allTold(log),
  };
}

/** What a segment is of, where only its parts say it. */
const kindOfParts = (segment: AafObject) =>
  childrenAt(segment, PID.components)
    .found.map(kindOf)
    .find((k) => k !== null) ?? null;

/** A slot that is a track, with what it is of, its number among those of its kind, and its name. */
interface TrackSlot {
  readonly slot: AafObject;
  readonly segment: AafObject;
  readonly kind: 'picture' | 'sound';
  readonly number: number;
  readonly name: string;
}

/** The slots of pictures and of sound, each kind in the order of its numbers and where its first slot stands. */
function tracksIn(slots: readonly AafObject[], say: Walk['say']): TrackSlot[] {
  const found: Record<'picture' | 'sound', TrackSlot[]> = { picture: [], sound: [] };
  const order: ('picture' | 'sound')[] = [];
  for (const slot of slots) {
    const segment = childAt(slot, PID.segment);
    const kind = segment && (kindOf(segment) ?? kindOfParts(segment));
    if (!segment || kind === 'timecode' || kind === 'marks') continue;
    const own = textAt(slot, PID.slotName);
    if (kind !== 'picture' && kind !== 'sound') {
      say('kept', 'track-kind', AAF_WORDS.trackKind({ name: own || String(intAt(slot, PID.slotId) ?? '') }));
      continue;
    }
    if (!order.includes(kind)) order.push(kind);
    const number = intAt(slot, PID.trackNumber) ?? found[kind].length + 1;
    found[kind].push({ slot, segment, kind, number, name: own || `${kind === 'picture' ? 'V' : 'A'}${number}` });
  }
  return order.flatMap((kind) => found[kind].sort((a, b) => a.number - b.number));
}

/** What a further layer of a track is called: V2 above V1, else the name with its place above the first. */
const layerName = (name: string, kind: Track['kind'], number: number, layer: number): string => {
  const letter = kind === 'picture' ? 'V' : 'A';
  return name === `${letter}${number - layer}` ? `${letter}${number}` : `${name} ${layer + 1}`;
};

/** The rate of the first picture track; else that of the timecode. */
function rateOfCut(slots: readonly AafObject[], timecode: ReturnType<typeof timecodeOf>, say: Walk['say']): Rate {
  const labels = timecode?.labels[0]?.rate;
  for (const slot of slots) {
    const segment = childAt(slot, PID.segment);
    const rate = segment && (kindOf(segment) ?? kindOfParts(segment)) === 'picture' ? rateOfSlot(slot) : null;
    if (rate) return { ...rate, dropFrame: labels?.dropFrame === true && canDropFrames(rate) };
  }
  if (labels) return labels;
  say('changed', 'rate-assumed', AAF_WORDS.rateAssumed({ rate: formatRate(RATES['24']) }));
  return RATES['24'];
}

/** A start that is counted at another rate keeps its label. */
const relabelled = (timecode: { start: Frames; rate: Rate }, rate: Rate): Frames =>
  nominal(timecode.rate) === nominal(rate) ? timecode.start : relabel(timecode.start, timecode.rate, rate);

function eventsOf(
  pieces: readonly Piece[],
  track: string,
  recordAt: (n: number) => Frames,
  rate: Rate,
  layer: number,
  title: string,
): ListEvent[] {
  const events: ListEvent[] = [];
  withTransitionAtEnd(pieces).forEach((piece, i, pieces) => {
    const record = { in: recordAt(piece.in), out: recordAt(piece.out) };
    // An empty place is an event where a transition leads into it.
    if (record.out <= record.in || (!piece.show && !piece.join)) return;
    const before = pieces[i - 1];
    const from = before?.show && before.out === piece.in ? ('previous' as const) : ('black' as const);
    const shown = piece.show?.(piece.lead, piece.out - piece.in);
    const { enabled } = piece;
    const number = shown?.number ?? '';
    const transitionIn = piece.join && { ...piece.join, from };
    const key = `${track} ${layer}/${events.length + 1}`;
    if (!shown) {
      const source = { in: 0, out: record.out - record.in };
      events.push(newEvent({ key, number, record, transitionIn, kind: 'black', reel: 'BL', sourceRate: rate, source, enabled }));
      return;
    }
    const { chain, kind, sourceRate, source, sourceLabels, retime, phase, placement, notes, effects } = shown;
    // A clip that stands in a cut of itself has the name of that.
    const clipName = shown.clipName || (kind === 'clip' ? title : '');
    const mediaPath = chain?.mediaPath ?? '';
    const fileName = mediaPath ? fileNameOfUrl(mediaPath) : (chain?.fileName ?? '');
    const reel = chain?.reel ?? '';
    events.push(
      newEvent({
        key,
        number,
        record,
        transitionIn,
        kind,
        clipName,
        sourceRate,
        source,
        sourceLabels,
        retime,
        phase,
        placement,
        enabled,
        metadata: effects.length > 0 ? { effects } : null,
        notes,
        reel,
        fileName,
        mediaPath,
      }),
    );
  });
  return events;
}

/**
 * A track that ends as its last transition cuts has nothing left after that: what it leads into begins with the transition then, and what is seen
 * stays the same.
 */
function withTransitionAtEnd(pieces: readonly Piece[]): readonly Piece[] {
  const [last, before] = [pieces.at(-1), pieces.at(-2)];
  if (!last?.join || last.out > last.in || last.join.before === 0) return pieces;
  const by = last.join.before;
  const moved = { ...last, in: last.in - by, lead: last.lead - by, join: { ...last.join, before: 0 } };
  return [...pieces.slice(0, -2), ...(before ? [{ ...before, out: Math.min(before.out, moved.in) }] : []), moved];
}

/** A marker, and the slots that it describes. */
interface Placed extends Marker {
  readonly slots: readonly number[];
}

function slotsDescribed(part: AafObject): number[] {
  const data = bytesAt(part, PID.describedSlots, 4);
  if (!data) return [];
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  return Array.from({ length: data.length >> 2 }, (_, i) => view.getUint32(4 * i, true));
}

function markersOf(slots: readonly AafObject[], start: Frames, rate: Rate): Placed[] {
  return slots.flatMap((slot) => {
    if (classOf(slot) !== 'EventMobSlot') return [];
    const segment = childAt(slot, PID.segment);
    const parts = segment && classOf(segment) === 'Sequence' ? childrenAt(segment, PID.components).found : segment ? [segment] : [];
    const units = rateOfSlot(slot) ?? rate;
    return parts.flatMap((part): Placed[] => {
      const at = intAt(part, PID.eventPosition);
      if (at === null || !['CommentMarker', 'DescriptiveMarker'].includes(classOf(part))) return [];
      const record = start + Math.round((at * rate.num * units.den) / (rate.den * units.num));
      return [{ record, colour: null, text: textAt(part, PID.eventComment), slots: slotsDescribed(part) }];
    });
  });
}

/** Each marker goes to the event of the track that it describes, else to that of the uppermost picture track that it stands on. */
function withMarkers(
  tracks: readonly Track[],
  bySlot: ReadonlyMap<number, readonly Track[]>,
  markers: readonly Placed[],
): { tracks: Track[]; strays: Marker[] } {
  const on = new Map<ListEvent, Marker[]>();
  const strays: Marker[] = [];
  const pictures = tracks.filter((t) => t.kind === 'picture').reverse();
  for (const { slots, ...marker } of markers) {
    // Of the layers of a slot it is the uppermost that stands there.
    const described = slots.flatMap((id) => [...(bySlot.get(id) ?? [])].reverse());
    const event = (described.length > 0 ? described : pictures)
      .flatMap((t) => t.events)
      .find((e) => marker.record >= e.record.in && marker.record < e.record.out);
    if (event) on.set(event, [...(on.get(event) ?? []), marker]);
    else strays.push(marker);
  }
  const marked = tracks.map((t) => ({ ...t, events: t.events.map((e) => (on.has(e) ? { ...e, markers: on.get(e) ?? [] } : e)) }));
  return { tracks: marked, strays };
}
