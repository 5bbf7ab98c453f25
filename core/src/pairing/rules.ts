import { z } from 'zod';

/** How strictly a name or reel must agree: `loose` ignores case, extension, light-copy tails, separators. */
const strictness = z.enum(['exact', 'loose', 'off']);

/**
 * Which criteria must hold for a candidate to count.
 * `need: 'either'` asks for the reel or the name beside the timecode; `'both'` for both of them.
 * `rates` says how a source timecode is carried to an original of another rate: by its label (what
 * most systems write), by real time, or by frame count. Never silently: the evidence says which.
 */
export const rulesSchema = z.object({
  name: strictness.default('loose'),
  reel: strictness.default('loose'),
  timecode: z.enum(['must', 'off']).default('must'),
  need: z.enum(['either', 'both']).default('either'),
  rates: z.enum(['label', 'real-time', 'frame-count']).default('label'),
});
export type Rules = z.infer<typeof rulesSchema>;

export const DEFAULT_RULES: Rules = rulesSchema.parse({});

/** Which of equal candidates comes first: by raster, and those below some folders before all others. */
export const preferenceSchema = z.object({
  raster: z.enum(['largest', 'smallest']).default('largest'),
  folders: z.array(z.string().min(1)).max(100).default([]),
});
export type Preference = z.infer<typeof preferenceSchema>;

export const USUAL_PREFERENCE: Preference = preferenceSchema.parse({});
