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
  /** Until when it is kept after it was deleted; null for a job on the desk. */
  keptUntil: z.number().nullable(),
  /** Tasks that have not ended. */
  running: z.number(),
  /** True while its numbers are being counted: those shown, if any, are older. */
  counting: z.boolean(),
});
export type JobSummary = z.infer<typeof jobSummarySchema>;

/** Which jobs are looked at: those on the desk, or those that were deleted and are still kept. */
export const whichJobsSchema = z.enum(['desk', 'deleted']);
export type WhichJobs = z.infer<typeof whichJobsSchema>;

/** Deleted jobs are kept for this long, in milliseconds: thirty days. */
const KEPT = 30 * 24 * 3600 * 1000;
/** Until when a job is kept that was deleted then; null where it was not. */
export const keptUntil = (deletedAt: number | null): number | null => deletedAt && deletedAt + KEPT;

/** Jobs on one page of the desk: as many as are sent at once. */
export const DESK_PAGE = 100;

/** One page of the desk. */
export const deskViewSchema = z.object({
  /** The one that changed last first. */
  jobs: z.array(jobSummarySchema).readonly(),
  /** How many have the words that are looked for; all of them where none are. */
  found: z.number(),
  /** How many are on the desk, or deleted, whichever is asked for. */
  all: z.number(),
  /** How many are deleted and can be brought back. */
  deleted: z.number(),
});
export type DeskView = z.infer<typeof deskViewSchema>;
