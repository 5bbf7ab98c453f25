import { z } from 'zod';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { scopeSchema } from '../scope';

/** Writes something about what it is about; an event shows what was written about it. */
export const note = kind({
  schema: z.object({ kind: z.literal('note'), scope: scopeSchema, text: z.string().trim().min(1).max(10_000) }),
  scope: (d) => d.scope,
  apply(draft, { scope, text }) {
    if (scope.of === 'event') for (const e of eventsIn(draft, scope)) put(draft, e.key, { remarks: [...e.remarks, text] });
    return null;
  },
  says: (d) => `noted "${d.text.length > 80 ? `${d.text.slice(0, 79)}…` : d.text}"`,
});
