import { z } from 'zod';
import { eventsIn, put } from '../draft';
import { kind, nameOf } from '../kind';
import { scopeSchema } from '../scope';

/** Gives events a LUT after their CDL, by the path of its `.cube` file, or takes it away. */
export const lut = kind({
  schema: z.object({ kind: z.literal('lut'), scope: scopeSchema, lut: z.string().min(1).nullable() }),
  scope: (d) => d.scope,
  apply(draft, d) {
    for (const event of eventsIn(draft, d.scope)) put(draft, event.key, { lut: d.lut });
    return null;
  },
  says: (d) => (d.lut ? `LUT ${nameOf(d.lut)}` : 'LUT removed'),
  moved: (d, at) => ({ ...d, lut: d.lut && at(d.lut) }),
});
