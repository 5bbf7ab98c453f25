import type { PairState } from '@gemello/core';
import { z } from 'zod';
import { jobCountsSchema } from './ledger';
import { told } from './told';

/** A stretch of a job's small ribbon: one or several events in the same state. Shares of the cut's length, 0 to 1. */
export const ribbonSpanSchema = z.object({
  layer: z.number(),
  from: z.number(),
  to: z.number(),
  state: told<PairState>(),
});
export type RibbonSpan = z.infer<typeof ribbonSpanSchema>;

/** What the desk shows of a job, as it was when it last changed. */
export const storedSummarySchema = z.object({
  durationFrames: z.number(),
  counts: jobCountsSchema.nullable(),
  ribbon: z.array(ribbonSpanSchema).readonly(),
});
export type StoredSummary = z.infer<typeof storedSummarySchema>;

export const jobSummarySchema = storedSummarySchema.partial().extend({
  id: z.string(),
  title: z.string(),
  /** The title of its cut, as it was counted last. */
  listTitle: z.string().nullable(),
  createdAt: z.number(),
  /** When anything in it was last decided, delivered or found. */
  changedAt: z.number(),
  /** Tasks that have not ended. */
  running: z.number(),
  /** True while its numbers are being counted: those shown, if any, are older. */
  counting: z.boolean(),
});
export type JobSummary = z.infer<typeof jobSummarySchema>;

/** Jobs on one page of the desk: as many as are sent at once. */
export const DESK_PAGE = 100;

/** One page of the desk. */
export const deskViewSchema = z.object({
  /** The one that changed last first. */
  jobs: z.array(jobSummarySchema).readonly(),
  /** How many have the words that are looked for; all of them where none are. */
  found: z.number(),
  /** How many are on the desk. */
  all: z.number(),
});
export type DeskView = z.infer<typeof deskViewSchema>;
