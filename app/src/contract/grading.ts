import type { Cdl } from '@gemello/core';
import { z } from 'zod';
import { told } from './told';

/** Which shots are to be brought close to which. */
export const closeSchema = z.object({ measure: z.string().min(1).max(200), events: z.array(z.string().max(200)).min(1).max(2000) });

/** A shot with the grade that brings it close, and how far it is from the measure before and after; or why it cannot be. */
export const broughtSchema = z.union([
  z.object({ event: z.string(), cdl: told<Cdl>(), before: z.number(), after: z.number(), clipped: z.number() }),
  z.object({ event: z.string(), why: z.string() }),
]);
export type BroughtView = z.infer<typeof broughtSchema>;
