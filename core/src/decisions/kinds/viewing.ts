import { z } from 'zod';
import { lutText } from '../../edit';
import { cdlSchema } from '../../grade';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { lutFields, lutUse } from '../lut';
import { ON_CUT, scopeSchema } from '../scope';

/**
 * What pictures are looked at through on a screen, after their grade: a CDL, then a LUT; it is in no render. Both
 * null: as they are. Before it had a scope it was kept without one, and meant the whole cut.
 */
export const viewing = kind({
  schema: z.object({
    kind: z.literal('viewing'),
    scope: scopeSchema.default(ON_CUT),
    cdl: cdlSchema.nullable().default(null),
    ...lutFields,
  }),
  scope: (d) => d.scope ?? ON_CUT,
  apply(draft, { scope = ON_CUT, cdl = null, ...d }) {
    const lut = lutUse(d);
    const through = cdl || lut ? { cdl, lut } : null;
    for (const event of eventsIn(draft, scope)) put(draft, event.key, { viewing: through });
    return null;
  },
  says(d) {
    const lut = lutUse(d);
    return lut ? `viewed through ${lutText(lut)}` : d.cdl ? 'viewed through a CDL' : 'viewed as it is';
  },
  moved: (d, at) => ({ ...d, lut: d.lut && at(d.lut) }),
});
