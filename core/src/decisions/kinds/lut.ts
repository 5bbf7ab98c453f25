import { z } from 'zod';
import { lutText } from '../../edit';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { lutFields, lutUse } from '../lut';
import { scopeSchema } from '../scope';

/** Gives events a LUT after their CDL, or takes it away. */
export const lut = kind({
  schema: z.object({ kind: z.literal('lut'), scope: scopeSchema, ...lutFields }),
  scope: (d) => d.scope,
  apply(draft, d) {
    for (const event of eventsIn(draft, d.scope)) put(draft, event.key, { lut: lutUse(d) });
    return null;
  },
  says(d) {
    const use = lutUse(d);
    return use ? `LUT ${lutText(use)}` : 'LUT removed';
  },
  moved: (d, at) => ({ ...d, lut: d.lut && at(d.lut) }),
});
