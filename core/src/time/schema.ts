import { z } from 'zod';
import { type Rate, rateOf } from './rate';

/** A rate as it stands in files and decisions. */
export const rateSchema: z.ZodType<Rate> = z
  .object({ num: z.int().min(1), den: z.int().min(1), dropFrame: z.boolean().default(false) })
  .transform((r) => rateOf(r.num, r.den, r.dropFrame));
