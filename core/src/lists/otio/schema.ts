import { z } from 'zod';
import { fractionSchema, placementSchema, speedKeysSchema, wipeLookSchema } from '../../edit';
import { cdlSchema } from '../../grade/files';
import { OTIO_WORDS } from './wording';

/** Nested stacks below this depth are not opened. */
export const DEEPEST = 32;

/**
 * The parts of OpenTimelineIO JSON that Gemello looks into (schemas as published with the format,
 * versions 1 and 2). Everything else passes through as it is: objects keep fields they are not
 * asked for.
 */
const LARGEST = 1e9;
const time = z.looseObject({ rate: z.number().min(0.001).max(1e6), value: z.number().min(-LARGEST).max(LARGEST) });
export type OtioTime = z.infer<typeof time>;
const timeRange = z.looseObject({ start_time: time, duration: time });
export type OtioRange = z.infer<typeof timeRange>;

/** Any schema object: its name and version stand in `OTIO_SCHEMA`, such as `Clip.2`. */
const anyObject = z.looseObject({ OTIO_SCHEMA: z.string() });
export type OtioObject = z.infer<typeof anyObject>;

/** What should be an object of the format; whether it is one is seen when it is looked into. */
const anyThing = z.custom<OtioObject>();

const metadata = z.record(z.string(), z.unknown()).nullish();
const shared = {
  OTIO_SCHEMA: z.string(),
  name: z.string().nullish(),
  metadata,
};

export const itemSchema = z.looseObject({
  ...shared,
  source_range: timeRange.nullish(),
  effects: z.array(anyThing).nullish(),
  markers: z.array(anyThing).nullish(),
  enabled: z.boolean().nullish(),
  children: z.array(anyThing).nullish(),
  kind: z.string().nullish(),
  media_reference: anyObject.nullish(),
  media_references: z.record(z.string(), anyObject).nullish(),
  active_media_reference_key: z.string().nullish(),
});
export type OtioItem = z.infer<typeof itemSchema>;

export const transitionSchema = z.looseObject({ ...shared, in_offset: time, out_offset: time, transition_type: z.string().nullish() });
export const markerSchema = z.looseObject({
  ...shared,
  marked_range: timeRange,
  color: z.string().nullish(),
  comment: z.string().nullish(),
});
export const referenceSchema = z.looseObject({
  ...shared,
  available_range: timeRange.nullish(),
  target_url: z.string().nullish(),
  target_url_base: z.string().nullish(),
  name_prefix: z.string().nullish(),
  name_suffix: z.string().nullish(),
  generator_kind: z.string().nullish(),
  start_frame: z.number().nullish(),
  frame_step: z.number().int().nullish(),
  frame_zero_padding: z.number().int().min(0).max(20).nullish(),
});
export const warpSchema = z.looseObject({ ...shared, time_scalar: z.number() });
export const startSchema = time.nullish();
export const timelineSchema = z.looseObject({ ...shared, global_start_time: z.unknown().optional(), tracks: anyObject });

/**
 * Checks a value and hands back the value itself, not a copy, so that it can go out as it came and
 * is still known by its place in the file.
 */
export function checked<T>(schema: z.ZodType<T>, value: unknown): { readonly data: T } | { readonly wrong: string } {
  // Most that is no object of the format is none at first sight.
  if (typeof (value as { OTIO_SCHEMA?: unknown } | null)?.OTIO_SCHEMA !== 'string') return { wrong: OTIO_WORDS.noSchema().message };
  const parsed = schema.safeParse(value);
  if (parsed.success) return { data: value as T };
  const [issue] = parsed.error.issues;
  return { wrong: `${issue?.path.join('.')}: ${issue?.message}` };
}

/** `Clip` of `Clip.2`; empty for what is no object of the format. */
export function schemaName(o: { OTIO_SCHEMA: string } | null | undefined): string {
  const stated: unknown = o?.OTIO_SCHEMA;
  const name = typeof stated === 'string' ? (stated.split('.')[0] ?? '') : '';
  return FORMER_NAMES[name] ?? name;
}

/** What schemas were called in the first files of the format (from memory). */
const FORMER_NAMES: Record<string, string> = { Filler: 'Gap', Sequence: 'Track', SerializeableCollection: 'SerializableCollection' };

/** What Gemello itself writes into the metadata of timelines, clips and transitions, under `gemello`. */
const ownFields = {
  reel: z.string(),
  number: z.string(),
  cdl: cdlSchema,
  notes: z.array(z.string()),
  placement: placementSchema,
  keys: speedKeysSchema,
  phase: fractionSchema,
  look: wipeLookSchema,
  wipeCode: z.string(),
  type: z.enum(['wipe', 'key']),
  kind: z.enum(['title', 'generator', 'bars', 'black']),
  dropFrame: z.boolean(),
  sourceDropFrame: z.boolean(),
};
export type Own = { readonly [F in keyof typeof ownFields]?: z.infer<(typeof ownFields)[F]> };

/** What stands under `gemello` in an object's metadata, field by field; `wrong` names those that could not be read. */
export function ownOf(metadata: unknown): { readonly own: Own; readonly wrong: readonly string[] } {
  const stated = (metadata as { gemello?: Record<string, unknown> } | null | undefined)?.gemello;
  if (typeof stated !== 'object' || stated === null) return NOTHING;
  const own: Record<string, unknown> = {};
  const wrong: string[] = [];
  for (const [field, schema] of Object.entries(ownFields)) {
    if (stated[field] === undefined) continue;
    const parsed = schema.safeParse(stated[field]);
    if (parsed.success) own[field] = parsed.data;
    else wrong.push(field);
  }
  return { own, wrong };
}

const NOTHING: ReturnType<typeof ownOf> = { own: {}, wrong: [] };
