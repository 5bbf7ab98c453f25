import {
  atLine,
  type EventKind,
  type ListEvent,
  type Marker,
  NATURAL,
  type Notice,
  newEvent,
  type Retime,
  type Severity,
} from '../../edit';
import {
  ceilOf,
  type FrameRange,
  type Frames,
  fraction,
  fractionOf,
  magnitude,
  type Rate,
  rateFromDecimal,
  sameSpeed,
  times,
  ZERO,
} from '../../time';
import { beyondName, fileNameOfUrl } from '../paths';
import {
  checked,
  DEEPEST,
  itemSchema,
  markerSchema,
  type OtioItem,
  type OtioRange,
  type OtioTime,
  ownSchema,
  referenceSchema,
  schemaName,
  warpSchema,
} from './schema';

/** What the reading of one timeline carries along. */
export interface Reading {
  readonly rate: Rate;
  readonly notices: Notice[];
  /** The line each object begins on, from 1. */
  readonly lines: ReadonlyMap<object, number>;
}

export function say(r: Reading, severity: Severity, code: string, at: object | null, message: string, event: string | null = null): void {
  r.notices.push({ severity, code, place: atLine((at && r.lines.get(at)) ?? null), event, message });
}

export const rateOf = (time: OtioTime | null | undefined): Rate | null => (time ? rateFromDecimal(time.rate) : null);

export const frames = (time: OtioTime, rate: Rate): Frames => Math.round((time.value * rate.num) / (rate.den * exactRate(time.rate)));

/** 23.976 stands for 24000/1001. */
function exactRate(decimal: number): number {
  const r = rateFromDecimal(decimal);
  return r ? r.num / r.den : decimal;
}

/**
 * How long an item is on the record: its source range, or all that its media has, or what it holds:
 * a track the sum, a stack the longest. Transitions take no time of their own.
 */
export function lengthOf(item: OtioItem, rate: Rate, depth = 0): Frames {
  if (item.source_range) return Math.max(0, frames(item.source_range.duration, rate));
  const available = activeReference(item)?.available_range;
  if (available) return Math.max(0, frames(available.duration, rate));
  if (depth > DEEPEST) return 0;
  const lengths = (item.children ?? []).flatMap((child) => {
    if (schemaName(child) === 'Transition') return [];
    const item = checked(itemSchema, child);
    return 'data' in item ? [lengthOf(item.data, rate, depth + 1)] : [];
  });
  return schemaName(item) === 'Track' ? lengths.reduce((sum, n) => sum + n, 0) : Math.max(0, ...lengths);
}

/** A clip has one media reference, or several by name of which one is active (Clip.2). */
function activeReference(item: OtioItem) {
  const object = item.media_references?.[item.active_media_reference_key ?? 'DEFAULT_MEDIA'] ?? item.media_reference;
  const reference = object ? checked(referenceSchema, object) : null;
  return reference && 'data' in reference ? reference.data : null;
}

/** One item of a track as an event without its transition. A nested cut or an unknown item is one too. */
export function eventOf(r: Reading, item: OtioItem, key: string, record: FrameRange): ListEvent {
  const reference = activeReference(item);
  const range = item.source_range ?? reference?.available_range ?? null;
  const sourceRate = rateOf(range?.start_time) ?? r.rate;
  const retime = retimeOf(r, item, key);
  const start = range ? Math.round(range.start_time.value) : 0;
  const length = sameSpeed(sourceRate, r.rate) ? record.out - record.in : range ? frames(range.duration, sourceRate) : 0;
  const generator = reference && schemaName(reference) === 'GeneratorReference';
  const own = ownSchema.parse(item.metadata?.gemello ?? {});
  return newEvent({
    key,
    number: own.number ?? '',
    kind: generator ? kindOf(reference.generator_kind ?? '') : 'clip',
    reel: reelOf(item, reference?.metadata ?? null),
    clipName: item.name || reference?.name || (schemaName(item) === 'Clip' ? '' : schemaName(item)),
    fileName: fileOf(reference),
    mediaPath: beyondName(reference?.target_url ?? '', fileOf(reference)),
    sourceRate,
    source: { in: start, out: start + Math.max(1, sourceLength(retime, length)) },
    sourceLabels: range ? timesText(range) : '',
    phase: own.phase ?? ZERO,
    record,
    retime,
    markers: markersOf(r, item, range, record),
    enabled: item.enabled ?? true,
    cdl: own.cdl ?? null,
    placement: own.placement ?? null,
    notes: own.notes ?? [],
    metadata: isForeign(item, reference?.metadata) ? { item, foreign: true } : { item },
    line: r.lines.get(item) ?? null,
  });
}

/** A range as it is written, in its own counts and rates. */
const timesText = ({ start_time, duration }: OtioRange): string =>
  `${start_time.value}@${start_time.rate} ${duration.value}@${duration.rate}`;

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

/** How many frames of source lie below a length of record. */
function sourceLength(retime: Retime, length: Frames): Frames {
  if (retime.kind === 'keyed') return Math.ceil(Math.max(...retime.keys.map((k) => k.source)));
  return retime.kind === 'constant' ? ceilOf(times(magnitude(retime.speed), fraction(length))) : length;
}

const kindOf = (generator: string): EventKind =>
  (['black', 'bars', 'title'] as const).find((k) => k === generator.toLowerCase()) ?? 'generator';

function retimeOf(r: Reading, item: OtioItem, key: string): Retime {
  let retime: Retime = NATURAL;
  for (const effect of item.effects ?? []) {
    const schema = schemaName(effect);
    const warp = warpSchema.safeParse(effect);
    if (!isWarp(effect))
      say(
        r,
        'kept',
        'effect',
        effect,
        `The effect ${String(effect.name || effect.OTIO_SCHEMA)} is not in the conform; it goes out as it came.`,
        key,
      );
    else if (schema === 'FreezeFrame' || (warp.success && warp.data.time_scalar === 0)) retime = { kind: 'freeze' };
    else if (warp.success && warp.data.time_scalar !== 1) {
      const keys = ownSchema.parse(warp.data.metadata?.gemello ?? {}).keys;
      retime = keys ? { kind: 'keyed', keys } : { kind: 'constant', speed: fractionOf(warp.data.time_scalar) };
    }
  }
  return retime;
}

/** The effects that say how the source runs. */
export const isWarp = (effect: { OTIO_SCHEMA: string }): boolean => ['LinearTimeWarp', 'FreezeFrame'].includes(schemaName(effect));

/** Where systems that write the format keep the reel (common practice): `reel` in the metadata of clip or media, in any corner. */
function reelOf(item: OtioItem, media: OtioItem['metadata']): string {
  for (const metadata of [item.metadata, media])
    for (const corner of [metadata, ...Object.values(metadata ?? {})]) {
      const reel = typeof corner === 'object' && corner !== null ? (corner as Record<string, unknown>).reel : null;
      if (typeof reel === 'string' && reel !== '') return reel;
    }
  return '';
}

function fileOf(reference: ReturnType<typeof activeReference>): string {
  if (!reference) return '';
  if (schemaName(reference) === 'ImageSequenceReference') {
    const padding = reference.frame_zero_padding ?? 0;
    const first = String(reference.start_frame ?? 0).padStart(padding, '0');
    return `${reference.name_prefix ?? ''}${first}${reference.name_suffix ?? ''}`;
  }
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
