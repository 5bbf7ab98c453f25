import { z } from 'zod';

/** What came back from elsewhere: which event each clip is for, what is still out, and what is for none. */
export const homecomingViewSchema = z.object({
  /** Folders that are said to hold what was made elsewhere. */
  folders: z.array(z.string()).readonly(),
  back: z
    .array(
      z.object({
        event: z.string(),
        number: z.string(),
        offers: z
          .array(
            z.object({
              path: z.string(),
              fileName: z.string(),
              version: z.number().nullable(),
              by: z.array(z.string()).readonly(),
              sourceStartFrame: z.number(),
              pairedAt: z.number().nullable(),
            }),
          )
          .readonly(),
        shown: z.string().nullable(),
      }),
    )
    .readonly(),
  out: z.array(z.object({ event: z.string(), number: z.string() })).readonly(),
  strangers: z
    .array(z.object({ path: z.string(), fileName: z.string(), why: z.enum(['no-event', 'too-short', 'other-rate', 'speed-baked']) }))
    .readonly(),
});
export type HomecomingView = z.infer<typeof homecomingViewSchema>;
