import { asLists, withoutOverlaps, withSourceAsNeeded } from '../../conform';
import { type EditList, type ListEvent, type Metadata, speedOf, startOf, type Track } from '../../edit';
import {
  canDropFrames,
  carriedExactly,
  decimalOf,
  type Fraction,
  type FrameRange,
  type Frames,
  fraction,
  type Rate,
  sameSpeed,
} from '../../time';
import { noticeLog } from '../notices';
import { pathOf } from '../paths';
import { eventOf, isWarp, MARKER_NOTE } from './item';
import { timelineText } from './json';
import { itemSchema, type OtioItem, ownOf, schemaName, startSchema, transitionSchema } from './schema';
import { frames, nearest, rateOf } from './times';

type Json = Record<string, unknown>;

const time = (value: number, rate: Rate) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: rate.num / rate.den, value });
const range = (from: number, length: Frames, rate: Rate) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(from, rate),
  duration: time(length, rate),
});

/**
 * Writes OpenTimelineIO JSON (Timeline.1, Clip.2). Gaps fill what no event covers; of events that overlap on a track, the
 * later one goes to a layer above, since the items of a track follow one another. The reel stands
 * in the clip's metadata under `gemello`, as do number, CDL, placement and notes, and what the format has no field for:
 * whether timecode is drop-frame. What came from this
 * format and was not changed goes out as it came, fields and schemas that are unknown here included.
 */
export function writeOtio(given: EditList): string {
  const list = withSourceAsNeeded(withoutOverlaps(asLists(given)));
  const { timeline, stack, strays } = cameWith(list.format === 'otio' ? list.metadata : null);
  const start = startOf(list);
  const children = withStrays(
    list.tracks.map((track) => trackOf(track, list, start)),
    strays,
  );
  const document = {
    OTIO_SCHEMA: 'Timeline.1',
    ...timeline,
    metadata: metadataOf(timeline?.metadata as Json | undefined, list),
    name: list.title,
    global_start_time: statesStart(timeline, start, list.rate) ? timeline?.global_start_time : time(start, list.rate),
    tracks: { OTIO_SCHEMA: 'Stack.1', name: 'tracks', effects: [], markers: [], metadata: {}, ...stack, source_range: null, children },
  };
  return `${timelineText(document)}\n`;
}

/** The metadata of a timeline, with a word on how its timecode counts where its rate allows both ways, and the notes of the list. */
function metadataOf(came: Json | undefined, { rate, notes }: EditList): Json {
  const said = ownOf(came).own;
  // Markers of what is no event go out as they came.
  const own = notes.filter((n) => !n.startsWith(MARKER_NOTE));
  const fresh = { ...(canDropFrames(rate) ? { dropFrame: rate.dropFrame } : {}), ...(own.length > 0 ? { notes: own } : {}) };
  const same = said.dropFrame === (fresh as Json).dropFrame && JSON.stringify(said.notes ?? []) === JSON.stringify(own);
  if (same || Object.keys({ ...said, ...fresh }).length === 0) return came ?? {};
  const { dropFrame: _, notes: __, ...others } = (came?.gemello ?? {}) as Json;
  return { ...came, gemello: { ...others, ...fresh } };
}

/** The tracks with what came among them that is none: each where it stood, counted in items of the stack. */
function withStrays(tracks: readonly unknown[], strays: Came['strays']): unknown[] {
  const children: unknown[] = [];
  let next = 0;
  for (const track of tracks) {
    while (next < strays.length && (strays[next] as Came['strays'][0]).at <= children.length) children.push(strays[next++]?.item);
    children.push(track);
  }
  return [...children, ...strays.slice(next).map((s) => s.item)];
}

interface Came {
  readonly timeline?: Json;
  readonly stack?: Json;
  readonly track?: Json;
  readonly item?: OtioItem;
  readonly join?: Json;
  /** Where the item stood exactly, in frames of the record, when that was on no whole one. */
  readonly at?: Fraction;
  readonly gaps: readonly { at: number; item: unknown }[];
  readonly strays: readonly { at: number; item: unknown }[];
}

/** What the reader of this format laid beside a list, a track or an event; empty when it came from elsewhere. */
const cameWith = (metadata: Metadata | null | undefined): Came => ({ gaps: [], strays: [], ...(metadata as Partial<Came> | null) });

/** True where the start time that came says the start that the cut has now. */
function statesStart(timeline: Json | undefined, start: Frames, rate: Rate): boolean {
  const parsed = startSchema.safeParse(timeline?.global_start_time);
  if (!parsed.success || !parsed.data) return false;
  const stated = rateOf(parsed.data);
  return stated !== null && sameSpeed(stated, rate) && frames(parsed.data, rate) === start;
}

function trackOf(track: Track, list: EditList, start: Frames): Json {
  const ours = list.format === 'otio';
  const { track: bare, gaps, strays } = cameWith(ours ? track.metadata : null);
  const children: unknown[] = [];
  let at = start;
  let [stray, gap] = [0, 0];
  const straysBefore = (frame: Frames) => {
    while (stray < strays.length && (strays[stray] as Came['strays'][0]).at <= frame) children.push(strays[stray++]?.item);
  };
  const gapsIn = (hole: FrameRange) => {
    while (gap < gaps.length && (gaps[gap] as Came['gaps'][0]).at < hole.in) gap++;
    const from = gap;
    while (gap < gaps.length && (gaps[gap] as Came['gaps'][0]).at < hole.out) gap++;
    return gapsOver(hole, gaps.slice(from, gap), list.rate);
  };
  for (const event of track.events) {
    straysBefore(at);
    if (event.record.in > at) children.push(...gapsIn({ in: at, out: event.record.in }));
    straysBefore(event.record.in);
    if (event.transitionIn && event.transitionIn.duration > 0)
      children.push(joinOf(event, list.rate, ours ? cameWith(event.metadata).join : undefined));
    const came = ours ? cameWith(event.metadata).item : undefined;
    children.push(came ? mended(came, event, list.rate, bare?.enabled === false) : itemOf(event, list.rate));
    at = event.record.out;
  }
  for (const { at: stands, item } of gaps) if (stands >= at) children.push(item);
  straysBefore(Number.POSITIVE_INFINITY);
  return {
    OTIO_SCHEMA: 'Track.1',
    name: track.name,
    effects: [],
    markers: [],
    metadata: {},
    ...bare,
    kind: track.kind === 'sound' ? 'Audio' : 'Video',
    source_range: null,
    children,
  };
}

/** The gaps that came, where they fill the hole exactly; else one of our own. */
function gapsOver(hole: FrameRange, inside: Came['gaps'], rate: Rate): unknown[] {
  let at = hole.in;
  for (const { at: begins, item } of inside) {
    const parsed = itemSchema.safeParse(item);
    if (begins !== at || !parsed.success || !parsed.data.source_range) break;
    at += frames(parsed.data.source_range.duration, rate);
  }
  if (inside.length > 0 && at === hole.out) return inside.map((g) => g.item);
  return [{ OTIO_SCHEMA: 'Gap.1', name: '', source_range: range(0, hole.out - hole.in, rate), effects: [], markers: [], metadata: {} }];
}

function joinOf(event: ListEvent, rate: Rate, came: Json | undefined): Json {
  const join = event.transitionIn;
  if (!join) return {};
  const parsed = transitionSchema.safeParse(came);
  if (came && parsed.success) {
    const before = frames(parsed.data.in_offset, rate);
    if (before === join.before && before + frames(parsed.data.out_offset, rate) === join.duration) return came;
  }
  const own =
    join.type === 'dissolve'
      ? {}
      : {
          gemello: {
            type: join.type,
            ...(join.wipeCode === null ? {} : { wipeCode: join.wipeCode }),
            ...(join.look ? { look: join.look } : {}),
          },
        };
  return {
    OTIO_SCHEMA: 'Transition.1',
    name: join.type,
    transition_type: 'SMPTE_Dissolve',
    in_offset: time(join.before, rate),
    out_offset: time(join.duration - join.before, rate),
    metadata: own,
  };
}

function itemOf(event: ListEvent, rate: Rate): Json {
  return {
    OTIO_SCHEMA: 'Clip.2',
    name: event.clipName,
    enabled: event.enabled,
    source_range: recordRange(event, rate),
    effects: effectsOf(event),
    markers: markersOf(event, rate),
    media_references: { DEFAULT_MEDIA: referenceOf(event) },
    active_media_reference_key: 'DEFAULT_MEDIA',
    metadata: { gemello: ownMetadata(event, rate) },
  };
}

/**
 * An item as it came, with only those fields written anew that now say something else. What it said
 * is read from it once more, by the reader itself.
 */
function mended(came: OtioItem, event: ListEvent, rate: Rate, trackOff: boolean): Json {
  const { at } = cameWith(event.metadata);
  const stands = at && nearest(at) === event.record.in ? at : undefined;
  const read = eventOf({ rate, log: noticeLog(), notes: [], lines: new Map() }, came, event.key, event.record, stands);
  const said = trackOff ? { ...read, enabled: false } : read;
  const fresh = itemOf(event, rate);
  const same = (...fields: (keyof ListEvent)[]) => fields.every((f) => JSON.stringify(said[f]) === JSON.stringify(event[f]));
  if (schemaName(came) === 'Gap') return sameLength(came, event, rate) ? came : fresh;
  const mends: Json = {};
  if (!same('clipName')) mends.name = fresh.name;
  if (!same('enabled')) mends.enabled = fresh.enabled;
  if (!same('source') || !sameSpeed(said.sourceRate, event.sourceRate) || !sameLength(came, event, rate))
    mends.source_range = fresh.source_range;
  if (!same('retime')) mends.effects = [...(came.effects ?? []).filter((e) => !isWarp(e)), ...effectsOf(event)];
  if (!same('markers') && event.markers.length > 0) mends.markers = fresh.markers;
  if (!same('fileName', 'mediaPath', 'kind')) {
    mends.media_references = { ...came.media_references, DEFAULT_MEDIA: referenceOf(event) };
    mends.active_media_reference_key = 'DEFAULT_MEDIA';
  }
  if (!same('reel', 'number', 'cdl', 'placement', 'notes', 'phase', 'kind') || said.sourceRate.dropFrame !== event.sourceRate.dropFrame)
    mends.metadata = { ...came.metadata, gemello: ownMetadata(event, rate) };
  return { ...came, ...mends };
}

const sameLength = (came: OtioItem, event: ListEvent, rate: Rate): boolean =>
  !came.source_range || frames(came.source_range.duration, rate) === event.record.out - event.record.in;

/** In this format a clip's source range is as long as it is on the record; how much source runs below is the warp's to say. */
const recordRange = (event: ListEvent, rate: Rate) => ({
  ...range(event.source.in, 0, event.sourceRate),
  duration: time(event.record.out - event.record.in, rate),
});

function referenceOf(event: ListEvent): Json {
  const plain = { available_range: null, metadata: {} };
  if (event.kind !== 'clip') return { OTIO_SCHEMA: 'GeneratorReference.1', generator_kind: event.kind, parameters: {}, ...plain };
  if (event.fileName) return { OTIO_SCHEMA: 'ExternalReference.1', target_url: addressOf(event), ...plain };
  return { OTIO_SCHEMA: 'MissingReference.1', ...plain };
}

/** A path that came goes out as it came; a name of ours is made an address. */
const addressOf = (event: ListEvent): string => {
  const path = pathOf(event);
  return path === event.mediaPath ? path : encodeURI(path);
};

/** A marker stands in the source of its clip, as far from its start as it is from the clip's on the record. */
const markersOf = (event: ListEvent, rate: Rate): Json[] =>
  event.markers.map((m) => ({
    OTIO_SCHEMA: 'Marker.2',
    name: m.text,
    color: m.colour ?? '',
    marked_range: range(event.source.in + intoSource(m.record - event.record.in, event, rate), 0, event.sourceRate),
    metadata: {},
  }));

const intoSource = (frames: Frames, { sourceRate }: ListEvent, rate: Rate): number =>
  decimalOf(carriedExactly(fraction(frames), rate, sourceRate));

/** A keyed speed goes out as its mean, the form every reader of the format knows, with the keys beside it. */
function effectsOf({ retime }: ListEvent): Json[] {
  if (retime.kind === 'natural') return [];
  if (retime.kind === 'freeze')
    return [{ OTIO_SCHEMA: 'FreezeFrame.1', name: '', effect_name: 'FreezeFrame', time_scalar: 0, metadata: {} }];
  const metadata = retime.kind === 'keyed' ? { gemello: { keys: retime.keys } } : {};
  return [{ OTIO_SCHEMA: 'LinearTimeWarp.1', name: '', effect_name: 'LinearTimeWarp', time_scalar: speedOf(retime), metadata }];
}

function ownMetadata({ reel, number, cdl, placement, notes, phase, kind, sourceRate }: ListEvent, rate: Rate): Json {
  const assumed = sameSpeed(sourceRate, rate) && rate.dropFrame;
  return {
    ...(reel ? { reel } : {}),
    ...(number ? { number } : {}),
    ...(kind === 'clip' ? {} : { kind }),
    ...(cdl ? { cdl } : {}),
    ...(placement ? { placement } : {}),
    ...(phase.num === 0 ? {} : { phase }),
    ...(notes.length > 0 ? { notes } : {}),
    ...(sourceRate.dropFrame === assumed ? {} : { sourceDropFrame: sourceRate.dropFrame }),
  };
}
