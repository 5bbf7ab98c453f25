import { CARRIABLE, FIELDS, type NoticeDescription, SEVERITIES, type SequenceName } from '@gemello/core';
import { z } from 'zod';
import { told } from './told';

/** What has become of a delivered list. */
export const LIST_STATES = ['arrived', 'cut', 'beside'] as const;
export type ListState = (typeof LIST_STATES)[number];

/** What a person says of a list; null or absent leaves it to the list itself. */
export const readingSchema = z.object({
  rate: z.string().max(20).nullish(),
  raster: z
    .string()
    .regex(/^\d{2,5}[x×]\d{2,5}$/, 'A raster is two numbers, as 1920x1080.')
    .nullish(),
  sequence: z.coerce.number().int().min(0).max(100_000).nullish(),
  columns: z.partialRecord(z.enum(FIELDS), z.string()).nullish(),
});
export type Reading = z.infer<typeof readingSchema>;

/** Takes a list in. `order` names its files from the bottom layer up; `apart` makes each file a list of its own. */
export const takeSchema = z.object({
  reading: readingSchema,
  as: z.enum(['cut', 'beside']),
  apart: z.boolean().default(false),
  order: z.array(z.int().min(0)).max(1000).nullish(),
});

export const carrySchema = z.object({
  aspects: z.array(z.enum(CARRIABLE)).min(1),
  events: z.array(z.string()).nullable(),
  onlyWhatLacks: z.boolean(),
});

export const writingSchema = z.object({
  format: z.string().max(20),
  title: z.string().trim().max(120).optional(),
  numbering: z.enum(['keep', 'anew']).optional(),
  reelLength: z.coerce.number().int().min(4).max(128).optional(),
  counting: z.enum(['drop', 'non-drop']).optional(),
  layers: z.enum(['together', 'apart']).optional(),
});
export type Writing = z.infer<typeof writingSchema>;

/** One question that is asked of every list on arrival, with its answer. */
export const settingCheckSchema = z.object({
  name: z.string(),
  list: z.string(),
  reference: z.string(),
  agrees: z.boolean().nullable(),
  detail: z.string(),
});
export type SettingCheck = z.infer<typeof settingCheckSchema>;

/** A list in a few numbers. */
export const listFiguresSchema = z.object({
  title: z.string(),
  rate: z.string(),
  rateStated: z.boolean(),
  start: z.string(),
  durationFrames: z.number(),
  events: z.number(),
  layers: z.number(),
  soundTracks: z.number(),
  raster: z.string().nullable(),
  impossible: z.number(),
  counts: z.record(z.enum(SEVERITIES), z.number()),
});
export type ListFigures = z.infer<typeof listFiguresSchema>;

/** A list as it would be read, before it is taken in; `before` is how it is read without what is set here. */
export const arrivalViewSchema = z.object({
  id: z.string(),
  state: told<ListState>(),
  files: z
    .array(
      z.object({
        fileName: z.string(),
        format: z.string().nullable(),
        bytes: z.number(),
      }),
    )
    .readonly(),
  reading: readingSchema,
  figures: listFiguresSchema,
  before: listFiguresSchema,
  /** How it is read where nothing is set. */
  unset: listFiguresSchema,
  /** Rates of the job's originals, where the list states none and they speak against the one that was assumed: which is right has to be said. */
  ratesAgainst: z.array(z.string()).readonly(),
  /** How many events stand or begin elsewhere than before, by source or record frames. */
  moved: z.number(),
  sequences: z.array(told<SequenceName>()).readonly(),
  columns: z
    .object({
      headings: z.array(z.string()).readonly(),
      mapping: told<Partial<Record<(typeof FIELDS)[number], string>>>(),
      sample: z.array(z.array(z.string()).readonly()).readonly(),
    })
    .nullable(),
  checks: z.array(settingCheckSchema).readonly(),
  /** The first of the notices, gravest first, each with the line of text it speaks of. */
  notices: z.array(told<NoticeDescription & { fileName: string; text: string | null }>()).readonly(),
});
export type ArrivalView = z.infer<typeof arrivalViewSchema>;

/** One list of a job, for choosing among them. */
export const listEntrySchema = z.object({
  id: z.string(),
  state: told<ListState>(),
  current: z.boolean(),
  /** How it is read: what a person set. */
  reading: readingSchema,
  files: z.array(z.string()).readonly(),
  createdAt: z.number(),
});
export type ListEntry = z.infer<typeof listEntrySchema>;

export const besideViewSchema = z.object({
  fileName: z.string(),
  rows: z
    .array(
      z.object({
        event: z.string().nullable(),
        number: z.string(),
        name: z.string(),
        recordIn: z.string(),
        there: z.string().nullable(),
        differences: z
          .array(
            z.object({
              aspect: z.string(),
              here: z.string(),
              there: z.string(),
              lacks: z.enum(['here', 'there']).nullable(),
              carriable: z.boolean(),
            }),
          )
          .readonly(),
      }),
    )
    .readonly(),
  /** For each aspect: how often the cut lacks it, how often the other list does, how often the two differ. */
  summary: z
    .array(
      z.object({
        aspect: z.string(),
        lacksHere: z.number(),
        lacksThere: z.number(),
        differs: z.number(),
        carriable: z.boolean(),
      }),
    )
    .readonly(),
  unmatchedHere: z.number(),
  unmatchedThere: z.number(),
});
export type BesideView = z.infer<typeof besideViewSchema>;

export const writtenViewSchema = z.object({
  format: z.string(),
  flat: z.boolean(),
  files: z.array(z.string()).readonly(),
  notices: z.array(told<NoticeDescription>()).readonly(),
  reels: z
    .array(
      z.object({
        original: z.string(),
        written: z.string(),
      }),
    )
    .readonly(),
});
export type WrittenView = z.infer<typeof writtenViewSchema>;
