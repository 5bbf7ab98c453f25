import {
  type EditList,
  type EventKind,
  type ListEvent,
  type Marker,
  type Metadata,
  NATURAL,
  type Notice,
  PLAIN_EVENT,
  type Retime,
  type Severity,
  type Track,
  type Transition,
} from '../../edit';
import { type FrameRange, type Frames, RATES, type Rate, rateFromDecimal, sameSpeed } from '../../time';
import { fileNameOfUrl } from '../paths';
import { type ListOptions, unreadableList } from '../unreadable';
import {
  itemSchema,
  markerSchema,
  type OtioItem,
  type OtioObject,
  type OtioRange,
  type OtioTime,
  ownSchema,
  referenceSchema,
  schemaName,
  timelineSchema,
  transitionSchema,
  warpSchema,
} from './schema';

/** Nested stacks below this depth are not opened. */
const DEEPEST = 32;

interface Reading {
  readonly rate: Rate;
  readonly notices: Notice[];
}

/**
 * Reads OpenTimelineIO JSON. Record positions are summed up along each track from the timeline's
 * start; source ranges are the clips' own. A clip's length on the record is its source range's
 * duration; a time warp says how fast the source runs below it. Metadata is kept untouched. Never
 * throws on content.
 */
export function readOtio(text: string, options: ListOptions = {}): EditList {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return unreadableList(
      'otio',
      `This is not whole JSON (${(error as Error).message}). Ask for the file again; it may have been cut off.`,
    );
  }
  const timeline = findTimeline(json);
  if (!timeline) return unreadableList('otio', 'The file holds no timeline.');
  const parsed = timelineSchema.safeParse(timeline);
  if (!parsed.success) return unreadableList('otio', `The timeline lacks what it must have: ${parsed.error.issues[0]?.path.join('.')}.`);
  const { name, global_start_time: start, tracks, metadata } = parsed.data;
  const rate = options.rate ?? rateOf(start) ?? firstRate(tracks) ?? RATES['24'];
  const r: Reading = { rate, notices: [] };
  const first = start ? frames(start, rate) : 0;
  const counts = { picture: 0, sound: 0 };
  const made = layersOf(r, tracks).map((item): Track => {
    const sound = item.kind === 'Audio';
    const label = sound ? `A${++counts.sound}` : `V${++counts.picture}`;
    return { name: label, kind: sound ? 'sound' : 'picture', events: eventsOf(r, item, label, first) };
  });
  return { format: 'otio', title: name ?? '', rate, tracks: made, notes: [], metadata: (metadata as Metadata) ?? null, notices: r.notices };
}

function findTimeline(json: unknown, depth = 0): unknown {
  if (typeof json !== 'object' || json === null || depth > DEEPEST) return null;
  const object = json as Record<string, unknown>;
  const schema = typeof object.OTIO_SCHEMA === 'string' ? schemaName(object as { OTIO_SCHEMA: string }) : '';
  if (schema === 'Timeline') return object;
  // A bare stack or track is a timeline without its wrapping.
  if (schema === 'Stack') return { OTIO_SCHEMA: 'Timeline.1', name: object.name, tracks: object };
  if (schema === 'Track') return { OTIO_SCHEMA: 'Timeline.1', name: object.name, tracks: { OTIO_SCHEMA: 'Stack.1', children: [object] } };
  for (const child of Array.isArray(object.children) ? object.children : []) {
    const found = findTimeline(child, depth + 1);
    if (found) return found;
  }
  return null;
}

const rateOf = (time: OtioTime | null | undefined): Rate | null => (time ? rateFromDecimal(time.rate) : null);

/** The rate of the first clip that states one. */
function firstRate(object: OtioObject, depth = 0): Rate | null {
  const item = itemSchema.safeParse(object);
  if (!item.success || depth > DEEPEST) return null;
  if (schemaName(object) === 'Clip' && item.data.source_range) return rateOf(item.data.source_range.duration);
  for (const child of item.data.children ?? []) {
    const found = firstRate(child, depth + 1);
    if (found) return found;
  }
  return null;
}

const frames = (time: OtioTime, rate: Rate): Frames => Math.round((time.value * rate.num) / (rate.den * exactRate(time.rate)));

/** 23.976 stands for 24000/1001. */
function exactRate(decimal: number): number {
  const r = rateFromDecimal(decimal);
  return r ? r.num / r.den : decimal;
}

function say(r: Reading, severity: Severity, code: string, message: string, event: string | null = null): void {
  r.notices.push({ severity, code, line: null, event, message });
}

/** The tracks of the outermost stack, bottom first; a clip or stack that stands there alone becomes a track. */
function layersOf(r: Reading, stack: OtioObject): OtioItem[] {
  const item = itemSchema.safeParse(stack);
  if (!item.success) return [];
  return (item.data.children ?? []).flatMap((child): OtioItem[] => {
    const parsed = itemSchema.safeParse(child);
    if (!parsed.success) {
      say(r, 'unreadable', 'broken-track', `A track could not be read: ${parsed.error.issues[0]?.message}.`);
      return [];
    }
    if (schemaName(child) === 'Track') return [parsed.data];
    return [{ OTIO_SCHEMA: 'Track.1', kind: 'Video', children: [child] }];
  });
}

function eventsOf(r: Reading, track: OtioItem, label: string, first: Frames): ListEvent[] {
  const events: ListEvent[] = [];
  let at = first;
  let join: Transition | null = null;
  for (const child of track.children ?? []) {
    const schema = schemaName(child);
    if (schema === 'Transition') {
      join = transitionOf(r, child, label);
      continue;
    }
    const item = itemSchema.safeParse(child);
    if (!item.success) {
      say(
        r,
        'unreadable',
        'broken-item',
        `An item on ${label} could not be read (${item.error.issues[0]?.path.join('.')}); what follows it may stand too early.`,
      );
      continue;
    }
    const length = lengthOf(item.data, r.rate);
    if (schema !== 'Gap' && length > 0) {
      const id = `${label}/${events.length + 1}`;
      const behind = events.at(-1);
      const joined = join && { ...join, from: behind && behind.record.out === at ? ('previous' as const) : ('black' as const) };
      events.push(eventOf(r, item.data, schema, id, { in: at, out: at + length }, joined));
    } else if (schema === 'Gap' && join && events.length > 0)
      say(r, 'changed', 'transition-to-gap', `A transition on ${label} leads out of the picture; a black event carries it.`);
    if (schema === 'Gap' && join)
      events.push({
        ...PLAIN_EVENT,
        id: `${label}/${events.length + 1}`,
        kind: 'black',
        reel: 'BL',
        sourceRate: r.rate,
        source: { in: 0, out: Math.max(length, 1) },
        record: { in: at, out: at + Math.max(length, 1) },
        transitionIn: join,
      });
    join = null;
    at += length;
  }
  return events;
}

function transitionOf(r: Reading, object: OtioObject, label: string): Transition | null {
  const parsed = transitionSchema.safeParse(object);
  if (!parsed.success) {
    say(r, 'lost', 'broken-transition', `A transition on ${label} could not be read; a cut stands there.`);
    return null;
  }
  const { in_offset, out_offset, transition_type: type } = parsed.data;
  const before = frames(in_offset, r.rate);
  if (type && type !== 'SMPTE_Dissolve')
    say(r, 'changed', 'transition-kind', `A transition of the kind ${type} on ${label} was read as a dissolve.`);
  const own = ownSchema.parse(parsed.data.metadata?.gemello ?? {});
  return {
    type: own.type ?? 'dissolve',
    before,
    duration: before + frames(out_offset, r.rate),
    from: 'previous',
    wipeCode: own.wipeCode ?? null,
  };
}

/** How long an item is on the record: its source range, or all that its media has, or the longest of what it holds. */
function lengthOf(item: OtioItem, rate: Rate, depth = 0): Frames {
  if (item.source_range) return frames(item.source_range.duration, rate);
  const available = activeReference(item)?.available_range;
  if (available) return frames(available.duration, rate);
  if (depth > DEEPEST) return 0;
  const lengths = (item.children ?? []).flatMap((child) => {
    const parsed = itemSchema.safeParse(child);
    return parsed.success && schemaName(child) !== 'Transition' ? [lengthOf(parsed.data, rate, depth + 1)] : [];
  });
  return schemaName(item) === 'Track' ? lengths.reduce((sum, n) => sum + n, 0) : Math.max(0, ...lengths);
}

/** A clip has one media reference, or several by name of which one is active (Clip.2). */
function activeReference(item: OtioItem) {
  const object = item.media_references?.[item.active_media_reference_key ?? 'DEFAULT_MEDIA'] ?? item.media_reference;
  const parsed = object ? referenceSchema.safeParse(object) : null;
  return parsed?.success ? parsed.data : null;
}

function eventOf(r: Reading, item: OtioItem, schema: string, id: string, record: FrameRange, transitionIn: Transition | null): ListEvent {
  const reference = activeReference(item);
  const range = item.source_range ?? reference?.available_range ?? null;
  const sourceRate = rateOf(range?.start_time) ?? r.rate;
  const retime = retimeOf(r, item, id);
  const start = range ? Math.round(range.start_time.value) : 0;
  const speed = retime.kind === 'constant' ? Math.abs(retime.speed) : 1;
  const length = sameSpeed(sourceRate, r.rate) ? record.out - record.in : range ? Math.round(range.duration.value) : 0;
  const nested = schema !== 'Clip' ? nestedName(r, item, schema, id) : '';
  const generator = reference && schemaName(reference) === 'GeneratorReference';
  const { gemello, ...metadata } = item.metadata ?? {};
  const own = ownSchema.parse(gemello ?? {});
  return {
    ...PLAIN_EVENT,
    id,
    number: own.number ?? '',
    kind: generator ? kindOf(reference.generator_kind ?? '') : 'clip',
    reel: reelOf(item, reference?.metadata ?? null),
    clipName: item.name || nested || reference?.name || '',
    fileName: fileOf(reference),
    sourceRate,
    source: { in: start, out: start + Math.max(1, Math.ceil(length * speed - 1e-6)) },
    record,
    retime,
    transitionIn,
    markers: markersOf(r, item, range, record),
    enabled: item.enabled ?? true,
    cdl: own.cdl ?? null,
    notes: own.notes ?? [],
    metadata: Object.keys(metadata).length > 0 ? metadata : null,
  };
}

const kindOf = (generator: string): EventKind =>
  (['black', 'bars', 'title'] as const).find((k) => k === generator.toLowerCase()) ?? 'generator';

function nestedName(r: Reading, item: OtioItem, schema: string, id: string): string {
  if (schema === 'Stack' || schema === 'Track')
    say(
      r,
      'changed',
      'nested',
      `A nested cut ("${item.name ?? ''}") was kept as one event; open it in the editor's system to conform what is inside.`,
      id,
    );
  else say(r, 'kept', 'unknown-schema', `An item of the kind ${item.OTIO_SCHEMA} was kept as an event.`, id);
  return item.name ?? schema;
}

function retimeOf(r: Reading, item: OtioItem, id: string): Retime {
  let retime: Retime = NATURAL;
  for (const effect of item.effects ?? []) {
    const schema = schemaName(effect);
    const warp = warpSchema.safeParse(effect);
    if (schema === 'FreezeFrame' || (schema === 'LinearTimeWarp' && warp.success && warp.data.time_scalar === 0))
      retime = { kind: 'freeze' };
    else if (schema === 'LinearTimeWarp' && warp.success && warp.data.time_scalar !== 1)
      retime = { kind: 'constant', speed: warp.data.time_scalar };
    else if (schema !== 'LinearTimeWarp')
      say(r, 'lost', 'effect', `The effect ${String(effect.name ?? effect.OTIO_SCHEMA)} has no place in a conform and was left out.`, id);
  }
  return retime;
}

/** Where systems that write the format keep the reel (common practice): `reel` in the metadata of clip or media, in any corner. */
function reelOf(item: OtioItem, media: Metadata | null): string {
  for (const metadata of [item.metadata, media])
    for (const corner of [metadata, ...Object.values(metadata ?? {})]) {
      const reel = typeof corner === 'object' && corner !== null ? (corner as Record<string, unknown>).reel : null;
      if (typeof reel === 'string' && reel !== '') return reel;
    }
  return '';
}

function fileOf(reference: ReturnType<typeof activeReference>): string {
  if (!reference) return '';
  if (schemaName(reference) === 'ImageSequenceReference') return `${reference.name_prefix ?? ''}${reference.name_suffix ?? ''}`;
  return reference.target_url ? fileNameOfUrl(reference.target_url) : '';
}

function markersOf(r: Reading, item: OtioItem, range: OtioRange | null, record: FrameRange): Marker[] {
  return (item.markers ?? []).flatMap((object): Marker[] => {
    const parsed = markerSchema.safeParse(object);
    if (!parsed.success) return [];
    const into = frames(parsed.data.marked_range.start_time, r.rate) - (range ? frames(range.start_time, r.rate) : 0);
    const text = [parsed.data.name, parsed.data.comment].filter(Boolean).join(' ');
    return [{ record: record.in + into, colour: parsed.data.color ?? null, text }];
  });
}
