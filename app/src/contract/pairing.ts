import type { Decision, PairState, Rate, Scope } from '@gemello/core';
import { PAIR_STATES } from '@gemello/core/pairing';
import { z } from 'zod';
import { contenderViewSchema } from './ledger';
import { readingSchema } from './lists';
import { versionUsesSchema } from './originals';
import { fileProblemSchema, taskViewSchema } from './tasks';
import { told } from './told';

/** One cause for many events, with what settles it. */
export const causeViewSchema = z.object({
  id: z.string(),
  text: z.string(),
  votes: z.string(),
  events: z.array(z.string()).readonly(),
  exceptions: z.array(z.string()).readonly(),
  /** True where nothing speaks against it. */
  certain: z.boolean(),
  /** Empty where pictures must tell. */
  decisions: z.array(told<Decision>()).readonly(),
  /** What a shift of its events would be about; empty where no shift can settle it. */
  scopes: z.array(told<Scope>()).readonly(),
  /** The shift that is proposed, as people write it; empty where none is certain. */
  shift: z.string(),
  rate: told<Rate>(),
});
export type CauseView = z.infer<typeof causeViewSchema>;

const counts = z.record(z.enum(PAIR_STATES), z.number());

/** What some decisions would change, before they are made. */
export const previewViewSchema = z.object({
  now: counts,
  after: counts,
  /** How many events would stand otherwise, and the first of them. */
  changed: z.number(),
  samples: z.array(z.object({ event: z.string(), number: z.string(), from: told<PairState>(), to: told<PairState>() })).readonly(),
});
export type PreviewView = z.infer<typeof previewViewSchema>;

/** An original that may be taken by hand. */
export const clipFoundSchema = z.object({
  path: z.string(),
  fileName: z.string(),
  reel: z.string(),
  timecodeIn: z.string().nullable(),
  frames: z.number(),
});
export type ClipFound = z.infer<typeof clipFoundSchema>;

/** An original laid beside an event, with the differences that whoever takes it confirms. */
export const byHandViewSchema = z.object({ contender: contenderViewSchema, differences: z.array(z.string()).readonly() });
export type ByHandView = z.infer<typeof byHandViewSchema>;

/** Larger read-outs of the same clips, with what takes them. */
export const swapViewSchema = z.object({
  decisions: z.array(told<Decision>()).readonly(),
  /** How many events go from which raster to which. */
  rasters: z.array(z.object({ from: z.string(), to: z.string(), events: z.number() })).readonly(),
  /** Raster of the cut, which stays as it is; null where the list states none. */
  cut: z.string().nullable(),
  /** The reading of the list under which the cut has the raster of the larger read-outs; null where they differ, or it has. */
  raise: z.object({ list: z.string(), reading: readingSchema, raster: z.string(), sameShape: z.boolean() }).nullable(),
});
export type SwapView = z.infer<typeof swapViewSchema>;

/** Where the source of an event is used, in every version of the cut. */
export const eventUsesSchema = z.array(versionUsesSchema).readonly();

/** What a search came to by now: what it found, each with what it was known by and which events it is for. */
export const searchResultSchema = z.object({
  folder: z.string(),
  /** How many files were opened. */
  opened: z.number(),
  finds: z
    .array(z.object({ path: z.string(), by: z.enum(['name', 'content', 'size', 'timecode']), events: z.array(z.string()).readonly() }))
    .readonly(),
  problems: z.array(fileProblemSchema),
});
export type SearchResult = z.infer<typeof searchResultSchema>;

/** The newest search of a job; null where there was none. */
export const searchViewSchema = z.object({ task: taskViewSchema, result: searchResultSchema.nullable() }).nullable();
export type SearchView = z.infer<typeof searchViewSchema>;

/** What follows from a file or folder being elsewhere. */
export const relinkViewSchema = z.object({
  from: z.string(),
  to: z.string(),
  found: z.number(),
  samples: z.array(z.object({ from: z.string(), to: z.string() })).readonly(),
  exceptions: z.array(z.string()).readonly(),
});
export type RelinkView = z.infer<typeof relinkViewSchema>;
