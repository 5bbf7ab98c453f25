import { z } from 'zod';
import { put } from '../draft';
import { kind } from '../kind';
import { eventKey, onEvent } from '../scope';

/** Says that an event needs no original, or that it does, whatever its kind. */
export const exempt = kind({
  schema: z.object({ kind: z.literal('exempt'), event: eventKey, exempt: z.boolean() }),
  scope: (d) => onEvent(d.event),
  apply(draft, d) {
    put(draft, d.event, { exempt: d.exempt });
    return null;
  },
  says: (d) => (d.exempt ? 'needs no original' : 'needs an original'),
});
