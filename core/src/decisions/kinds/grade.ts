import { z } from 'zod';
import { cdlSchema } from '../../grade';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { scopeSchema } from '../scope';

/** Gives events an ASC CDL grade, or takes it away. */
export const grade = kind({
  schema: z.object({ kind: z.literal('grade'), scope: scopeSchema, cdl: cdlSchema.nullable() }),
  scope: (d) => d.scope,
  apply(draft, { scope, cdl }) {
    for (const event of eventsIn(draft, scope)) put(draft, event.key, { cdl });
    return null;
  },
  says: (d) => (d.cdl ? 'graded' : 'grade removed'),
});
