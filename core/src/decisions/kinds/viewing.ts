import { z } from 'zod';
import { cdlSchema } from '../../grade';
import { eventsIn, put } from '../draft';
import { kind, nameOf } from '../kind';
import { ON_CUT, scopeSchema } from '../scope';

/**
 * What pictures are looked at through on a screen, after their grade: a CDL, then the LUT of a `.cube` file; it is in no render. Both
 * null: as they are. Before it had a scope it was kept without one, and meant the whole cut.
 */
export const viewing = kind({
  schema: z.object({
    kind: z.literal('viewing'),
    scope: scopeSchema.default(ON_CUT),
    cdl: cdlSchema.nullable().default(null),
    lut: z.string().min(1).nullable(),
  }),
  scope: (d) => d.scope ?? ON_CUT,
  apply(draft, { scope = ON_CUT, cdl = null, lut }) {
    const through = cdl || lut ? { cdl, lut } : null;
    for (const event of eventsIn(draft, scope)) put(draft, event.key, { viewing: through });
    return null;
  },
  says: (d) => (d.lut ? `viewed through ${nameOf(d.lut)}` : d.cdl ? 'viewed through a CDL' : 'viewed as it is'),
  moved: (d, at) => ({ ...d, lut: d.lut && at(d.lut) }),
});
