import { z } from 'zod';
import { put } from '../draft';
import { kind, nameOf } from '../kind';
import { eventKey, onEvent } from '../scope';

/** Puts a movie in place of a title or an effect that was made elsewhere, with its alpha where it has one; null takes it away. */
export const bake = kind({
  schema: z.object({
    kind: z.literal('bake'),
    event: eventKey,
    bake: z
      .object({
        original: z.string().min(1),
        sourceStartFrame: z.int(),
        pairedAt: z.int().optional(),
        graded: z.boolean().optional(),
      })
      .nullable(),
  }),
  scope: (d) => onEvent(d.event),
  apply(draft, d) {
    put(draft, d.event, { bake: d.bake });
    return null;
  },
  says: (d) => (d.bake ? `shown as ${nameOf(d.bake.original)}` : 'its baked movie removed'),
  moved: (d, at) => ({ ...d, bake: d.bake && { ...d.bake, original: at(d.bake.original) } }),
});
