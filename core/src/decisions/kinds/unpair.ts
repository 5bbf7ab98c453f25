import { z } from 'zod';
import { put } from '../draft';
import { kind } from '../kind';
import { eventKey, onEvent } from '../scope';

/** Takes the link between an event and its original away. */
export const unpair = kind({
  schema: z.object({ kind: z.literal('unpair'), event: eventKey }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event }) {
    put(draft, event, { pair: null });
    return null;
  },
  says: () => 'pair removed',
});
