import { CARRIABLE, FIELDS, type NoticeDescription, type SequenceName, type Severity } from '@gemello/core';
import { z } from 'zod';

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
export interface SettingCheck {
  readonly name: string;
  readonly list: string;
  readonly reference: string;
  readonly agrees: boolean | null;
  readonly detail: string;
}

/** A list in a few numbers. */
export interface ListFigures {
  readonly title: string;
  readonly rate: string;
  readonly rateStated: boolean;
  readonly start: string;
  readonly durationFrames: number;
  readonly events: number;
  readonly layers: number;
  readonly soundTracks: number;
  readonly raster: string | null;
  readonly impossible: number;
  readonly counts: Record<Severity, number>;
}

/** A list as it would be read, before it is taken in; `before` is how it is read without what is set here. */
export interface ArrivalView {
  readonly id: string;
  readonly state: ListState;
  readonly files: readonly { fileName: string; format: string | null; bytes: number }[];
  readonly reading: Reading;
  readonly figures: ListFigures;
  readonly before: ListFigures;
  /** How many events stand or begin elsewhere than before, by source or record frames. */
  readonly moved: number;
  readonly sequences: readonly SequenceName[];
  readonly columns: {
    headings: readonly string[];
    mapping: Partial<Record<(typeof FIELDS)[number], string>>;
    sample: readonly string[][];
  } | null;
  readonly checks: readonly SettingCheck[];
  /** The first of the notices, gravest first, each with the line of text it speaks of. */
  readonly notices: readonly (NoticeDescription & { fileName: string; text: string | null })[];
}

/** One list of a job, for choosing among them. */
export interface ListEntry {
  readonly id: string;
  readonly state: ListState;
  readonly current: boolean;
  readonly files: readonly string[];
  readonly createdAt: number;
}

export interface BesideView {
  readonly fileName: string;
  readonly rows: readonly {
    event: string | null;
    number: string;
    name: string;
    recordIn: string;
    there: string | null;
    differences: readonly { aspect: string; here: string; there: string; lacks: 'here' | 'there' | null; carriable: boolean }[];
  }[];
  /** For each aspect: how often the cut lacks it, how often the other list does, how often the two differ. */
  readonly summary: readonly { aspect: string; lacksHere: number; lacksThere: number; differs: number; carriable: boolean }[];
  readonly unmatchedHere: number;
  readonly unmatchedThere: number;
}

export interface WrittenView {
  readonly format: string;
  readonly flat: boolean;
  readonly files: readonly string[];
  readonly notices: readonly NoticeDescription[];
  readonly reels: readonly { original: string; written: string }[];
}
