import { framesUnder } from '../../conform';
import {
  atLine,
  canBeSpeed,
  type EventKind,
  type FileExtent,
  type ListEvent,
  type Marker,
  NATURAL,
  type Notice,
  newEvent,
  type Retime,
  type Severity,
} from '../../edit';
import {
  canDropFrames,
  decimalOf,
  equal,
  type Fraction,
  type FrameRange,
  type Frames,
  floorOf,
  formatTimecode,
  fraction,
  fractionOf,
  minus,
  ONE,
  type Rate,
  sameSpeed,
  times,
  ZERO,
} from '../../time';
import type { Sentence } from '../../words';
import { type NoticeLog, tell } from '../notices';
import { beyondName, fileNameOfUrl } from '../paths';
import { oddNumber } from './json';
import {
  checked,
  DEEPEST,
  itemSchema,
  markerSchema,
  type OtioItem,
  type OtioObject,
  type OtioRange,
  type Own,
  ownOf,
  referenceSchema,
  schemaName,
  warpSchema,
} from './schema';
import { added, exactly, frames, nearest, rateOf, timesText } from './times';
import { OTIO_WORDS } from './wording';

/** What the reading of one timeline carries along. */
export interface Reading {
  readonly rate: Rate;
  readonly log: NoticeLog<Notice>;
  /** Notes of the list as a whole. */
  readonly notes: string[];
  /** The line each object begins on, from 1. */
  readonly lines: ReadonlyMap<object, number>;
}

export function say(r: Reading, severity: Severity, code: string, at: object | null, said: Sentence, event: string | null = null): void {
  tell(r.log, { severity, code, place: atLine((at && r.lines.get(at)) ?? null), event, ...said });
}

/** What Gemello itself wrote beside an object; what of that cannot be read is said. */
export function readOwn(r: Reading, object: OtioObject, key: string | null): Own {
  const { own, wrong } = ownOf(object.metadata);
  if (wrong.length > 0) say(r, 'lost', 'broken-metadata', object, OTIO_WORDS.brokenMetadata({ wrong: wrong.join(', ') }), key);
  return own;
}

/**
 * How long an item is on the record, exact: its source range, or all that its media has, or what it holds:
 * a track the sum, a stack the longest. Transitions take no time of their own. Null where nothing says it.
 */
export function lengthOf(item: OtioItem, rate: Rate, depth = 0): Fraction | null {
  const range = item.source_range ?? activeReference(item)?.available_range;
  if (range) return range.duration.value > 0 ? exactly(range.duration, rate) : ZERO;
  if (depth > DEEPEST || !item.children) return null;
  const lengths = item.children.flatMap((child) => {
    if (schemaName(child) === 'Transition') return [];
    const item = checked(itemSchema, child);
    return 'data' in item ? [lengthOf(item.data, rate, depth + 1) ?? ZERO] : [];
  });
  const longer = (a: Fraction, b: Fraction) => (decimalOf(b) > decimalOf(a) ? b : a);
  return lengths.reduce(schemaName(item) === 'Track' ? added : longer, ZERO);
}

/** A clip has one media reference, or several by name of which one is active (Clip.2). */
function activeReference(item: OtioItem) {
  const object = item.media_references?.[item.active_media_reference_key ?? 'DEFAULT_MEDIA'] ?? item.media_reference;
  const reference = object ? checked(referenceSchema, object) : null;
  return reference && 'data' in reference ? reference.data : null;
}

/**
 * One item of a track as an event without its transition. A nested cut or an unknown item is one too. Its source begins
 * where its range does, which may be on a part of a frame. `at` is where it stands exactly, in frames of the record.
 */
export function eventOf(r: Reading, item: OtioItem, key: string, record: FrameRange, at: Fraction = fraction(record.in)): ListEvent {
  const reference = activeReference(item);
  const range = item.source_range ?? reference?.available_range ?? null;
  const own = readOwn(r, item, key);
  const stated = rateOf(range?.start_time) ?? r.rate;
  const sourceRate = {
    ...stated,
    dropFrame: (own.sourceDropFrame ?? (sameSpeed(stated, r.rate) && r.rate.dropFrame)) && canDropFrames(stated),
  };
  const retime = retimeOf(r, item, key);
  const start = range ? exactly(range.start_time, stated) : ZERO;
  const phase = retime.kind === 'freeze' ? ZERO : (own.phase ?? minus(start, fraction(floorOf(start))));
  const used = sourceLength(retime, sourceRate, r.rate, record.out - record.in, phase);
  const generator = reference && schemaName(reference) === 'GeneratorReference';
  const fileName = fileOf(reference);
  const effects = (item.effects ?? []).filter((e) => !isWarp(e as OtioObject | null)).map((e) => effectName(e as OtioObject | null));
  if (reference?.frame_step && reference.frame_step !== 1)
    say(r, 'changed', 'frame-step', item, OTIO_WORDS.frameStep({ name: item.name ?? '', step: reference.frame_step }), key);
  return newEvent({
    key,
    number: own.number ?? '',
    kind: own.kind ?? (generator ? kindOf(reference.generator_kind ?? '') : 'clip'),
    reel: reelOf(item, reference?.metadata ?? null),
    clipName: item.name || reference?.name || (schemaName(item) === 'Clip' ? '' : schemaName(item)),
    fileName,
    mediaPath: beyondName(addressOf(reference), fileName),
    file: extentOf(reference, stated),
    sourceRate,
    source: { in: floorOf(start), out: floorOf(start) + used },
    sourceLabels: range ? timesText(range) : '',
    phase,
    record,
    retime,
    markers: markersOf(r, item, range, at),
    enabled: item.enabled ?? true,
    cdl: own.cdl ?? null,
    placement: own.placement ?? null,
    notes: own.notes ?? [],
    metadata: {
      item,
      ...(at.den === 1 ? {} : { at }),
      ...(isForeign(item, reference?.metadata) ? { foreign: true } : {}),
      ...(effects.length > 0 ? { effects } : {}),
    },
    line: r.lines.get(item) ?? null,
  });
}

/** The fields of a clip that the model has a place for. */
const MODELLED = new Set([
  'OTIO_SCHEMA',
  'name',
  'enabled',
  'source_range',
  'effects',
  'markers',
  'media_reference',
  'media_references',
  'active_media_reference_key',
  'metadata',
  'color',
]);

/** True when an item holds something that only this format has a place for. */
function isForeign(item: OtioItem, media: OtioItem['metadata']): boolean {
  const own = (metadata: OtioItem['metadata']) => Object.keys(metadata ?? {}).some((k) => k !== 'gemello');
  if (schemaName(item) !== 'Clip' || own(item.metadata) || own(media)) return true;
  return (
    Object.keys(item.media_references ?? {}).length > 1 ||
    (item.effects ?? []).some((e) => !isWarp(e)) ||
    Object.keys(item).some((k) => !MODELLED.has(k))
  );
}

/** How many frames of source a list names under a length of record. */
function sourceLength(retime: Retime, sourceRate: Rate, rate: Rate, length: Frames, phase: Fraction): Frames {
  if (retime.kind === 'keyed') return Math.max(1, Math.ceil(Math.max(...retime.keys.map((k) => k.source))));
  if (retime.kind === 'freeze') return Math.max(1, length);
  return framesUnder({ retime, sourceRate, rateMode: 'usual' }, rate, length, phase);
}

const kindOf = (generator: string): EventKind =>
  (['black', 'bars', 'title'] as const).find((k) => k === generator.toLowerCase()) ?? 'generator';

/** Several time warps on one item multiply: each runs what the one before it gives. */
function retimeOf(r: Reading, item: OtioItem, key: string): Retime {
  let speed: Fraction = ONE;
  let keyed: Retime | null = null;
  let warps = 0;
  for (const effect of (item.effects ?? []) as (OtioObject | null)[]) {
    if (!effect || !isWarp(effect)) {
      say(r, 'kept', 'effect', effect, OTIO_WORDS.effect({ effect: effectName(effect) }), key);
      continue;
    }
    const warp = warpSchema.safeParse(effect);
    const scalar = schemaName(effect) === 'FreezeFrame' ? 0 : warp.data?.time_scalar;
    if (scalar === undefined || !canBeSpeed(scalar)) {
      const odd = oddNumber((effect as { time_scalar?: unknown }).time_scalar);
      say(r, 'lost', 'broken-warp', effect, OTIO_WORDS.brokenSpeed({ number: odd }), key);
      continue;
    }
    warps++;
    speed = times(speed, fractionOf(scalar));
    const { keys } = readOwn(r, effect, key);
    keyed = keys ? { kind: 'keyed', keys } : null;
  }
  if (keyed && warps === 1) return keyed;
  if (!canBeSpeed(decimalOf(speed))) {
    say(r, 'lost', 'broken-warp', item, OTIO_WORDS.brokenSpeeds(), key);
    return NATURAL;
  }
  if (speed.num === 0) return { kind: 'freeze' };
  return equal(speed, ONE) ? NATURAL : { kind: 'constant', speed };
}

/** What people call an effect: its own name where it has one, else that of its kind. */
function effectName(effect: OtioObject | null): string {
  const named = [effect?.name, effect?.effect_name, effect?.OTIO_SCHEMA].find((n) => typeof n === 'string' && n !== '');
  return String(named ?? 'unnamed');
}

/** The effects that say how the source runs. */
export const isWarp = (effect: { OTIO_SCHEMA: string } | null): boolean => ['LinearTimeWarp', 'FreezeFrame'].includes(schemaName(effect));

/** Where systems that write the format keep the reel (common practice): `reel` in the metadata of clip or media, in any corner. */
function reelOf(item: OtioItem, media: OtioItem['metadata']): string {
  for (const metadata of [item.metadata, media])
    for (const corner of [metadata, ...Object.values(metadata ?? {})]) {
      const reel = typeof corner === 'object' && corner !== null ? (corner as Record<string, unknown>).reel : null;
      if (typeof reel === 'string' && reel !== '') return reel;
    }
  return '';
}

type Reference = ReturnType<typeof activeReference>;

/** The file name of a reference; of numbered frames the name of the first, whose number is padded as the file says. */
function fileOf(reference: Reference): string {
  if (!reference) return '';
  if (schemaName(reference) !== 'ImageSequenceReference') return reference.target_url ? fileNameOfUrl(reference.target_url) : '';
  const number = reference.start_frame ?? 0;
  const digits = String(Math.abs(number)).padStart(reference.frame_zero_padding ?? 0, '0');
  return `${reference.name_prefix ?? ''}${number < 0 ? '-' : ''}${digits}${reference.name_suffix ?? ''}`;
}

/** Where the media of a reference lies; of numbered frames the first of them, below their common address. */
function addressOf(reference: Reference): string {
  if (!reference || schemaName(reference) !== 'ImageSequenceReference') return reference?.target_url ?? '';
  const base = reference.target_url_base ?? '';
  return base === '' ? '' : `${base}${base.endsWith('/') ? '' : '/'}${fileOf(reference)}`;
}

/** What a reference states of its media: where it begins, and how much there is. */
function extentOf(reference: Reference, rate: Rate): FileExtent | null {
  const range = reference?.available_range;
  if (!range) return null;
  return { first: floorOf(exactly(range.start_time, rate)), frames: floorOf(exactly(range.duration, rate)), raster: null };
}

/** Markers stand in the source of their clip; of a marker without a clip its own time counts. */
function markersOf(r: Reading, item: OtioItem, range: OtioRange | null, begins: Fraction): Marker[] {
  return (item.markers ?? []).flatMap((object): Marker[] => {
    const parsed = markerSchema.safeParse(object);
    if (!parsed.success) {
      say(r, 'lost', 'broken-marker', object, OTIO_WORDS.brokenMarker());
      return [];
    }
    const at = exactly(parsed.data.marked_range.start_time, r.rate);
    const into = range ? minus(at, exactly(range.start_time, r.rate)) : at;
    return [{ record: nearest(added(begins, into)), colour: parsed.data.color || null, text: markerText(parsed.data) }];
  });
}

const markerText = ({ name, comment }: { name?: string | null | undefined; comment?: string | null | undefined }): string =>
  [name, comment].filter(Boolean).join(' ');

/** How notes begin that stand for markers of what is no event. */
export const MARKER_NOTE = 'Marker ';

/** Markers of what is no event: a gap, a track, the whole stack. They go out as they came, and are kept as notes. */
export function noteMarkers(r: Reading, object: OtioItem, where: string, first: Frames): void {
  for (const marker of object.markers ?? []) {
    const parsed = markerSchema.safeParse(marker);
    if (!parsed.success) continue;
    const start = object.source_range && schemaName(object) === 'Gap' ? frames(object.source_range.start_time, r.rate) : 0;
    const at = first + frames(parsed.data.marked_range.start_time, r.rate) - start;
    const note = `${MARKER_NOTE}${where} at ${formatTimecode(at, r.rate)}: ${markerText(parsed.data)}`;
    r.notes.push(note);
    say(r, 'kept', 'marker-elsewhere', marker, OTIO_WORDS.markerElsewhere({ where }));
  }
}
