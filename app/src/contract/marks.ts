import { z } from 'zod';

/** Where a movie goes over from one shot to the next. `frame` counts from its first; a cut has 0 frames. */
export const markSchema = z.object({
  kind: z.enum(['cut', 'dissolve', 'fade-out', 'fade-in']),
  frame: z.int().min(0),
  frames: z.int().min(0).max(10_000),
  /** 0 to 1; 1 for a mark that a person set. */
  score: z.number().min(0).max(1),
});
export type MarkView = z.infer<typeof markSchema>;
