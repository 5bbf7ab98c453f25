import type { Rate } from '@gemello/core';
import { z } from 'zod';
import { markSchema } from './marks';
import { taskViewSchema } from './tasks';

/** What was found in the reference: how likely a cut lies before each frame, in hundredths, and every mark that could count. */
export const cutsFoundSchema = z.object({
  /** The file it was found in; another one has cuts of its own. */
  madeFrom: z.string(),
  change: z.array(z.int().min(0).max(100)).readonly(),
  marks: z.array(markSchema).readonly(),
});
export type CutsFound = z.infer<typeof cutsFoundSchema>;

export const cutsViewSchema = z.object({
  /** Null where there is no reference. */
  movie: z
    .object({
      fileName: z.string(),
      frames: z.number(),
      /** Timecode frame of its first frame, and the record frame at which it is laid. */
      start: z.number(),
      record: z.number(),
      rate: z.custom<Rate>(),
    })
    .nullable(),
  task: taskViewSchema.nullable(),
  found: cutsFoundSchema.nullable(),
});
export type CutsView = z.infer<typeof cutsViewSchema>;

/** Marks out of which a list is to be made. */
export const marksSchema = z.object({ marks: z.array(markSchema).max(100_000) });
