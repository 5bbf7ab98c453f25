import { z } from 'zod';
import type { Placement, Retime, Transition } from './model';

const share = z.number();

/** The values of the model that come back from a file or a decision, checked. */
export const placementSchema: z.ZodType<Placement> = z.object({
  scale: share,
  x: share,
  y: share,
  rotation: share,
  crop: z.object({ left: share, right: share, top: share, bottom: share }),
  opacity: z.number().min(0).max(1),
});

export const speedKeysSchema = z.array(z.object({ record: z.number(), source: z.number() })).min(2);

export const retimeSchema: z.ZodType<Retime> = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('natural') }),
  z.object({ kind: z.literal('constant'), speed: z.number() }),
  z.object({ kind: z.literal('freeze') }),
  z.object({ kind: z.literal('keyed'), keys: speedKeysSchema }),
]);

export const transitionSchema: z.ZodType<Transition> = z.object({
  type: z.enum(['dissolve', 'wipe', 'key']),
  duration: z.int().min(0),
  before: z.int().min(0),
  from: z.enum(['previous', 'black']),
  wipeCode: z.string().nullable(),
});
