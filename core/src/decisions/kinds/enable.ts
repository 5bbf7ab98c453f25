import { z } from 'zod';
import { put } from '../draft';
import { kind } from '../kind';
import { eventKey, onEvent } from '../scope';

/** Switches an event off, so that it is not in the picture, or on again. */
export const enable = kind({
  schema: z.object({ kind: z.literal('enable'), event: eventKey, enabled: z.boolean() }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event, enabled }) {
    put(draft, event, { enabled });
    return null;
  },
  says: (d) => (d.enabled ? 'switched on' : 'switched off'),
});
