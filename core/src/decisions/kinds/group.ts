import { z } from 'zod';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { scopeSchema } from '../scope';

/** Puts events in a group of shots that are graded together, by its name, or takes them out. An event is in one group at most. */
export const group = kind({
  schema: z.object({ kind: z.literal('group'), scope: scopeSchema, group: z.string().trim().min(1).max(60).nullable() }),
  scope: (d) => d.scope,
  apply(draft, d) {
    for (const event of eventsIn(draft, d.scope)) put(draft, event.key, { group: d.group });
    return null;
  },
  says: (d) => (d.group ? `in the group ${d.group}` : 'in no group'),
});
