import { z } from 'zod';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { eventKey, onEvent } from '../scope';

/** Puts a finding of a proof aside, to be looked at when the others are done. It stays open. */
export const lookLater = kind({
  schema: z.object({ kind: z.literal('look-later'), event: eventKey, finding: z.string().min(1).max(60) }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, finding }) {
    for (const e of eventsIn(draft, onEvent(key))) put(draft, key, { laterFindings: [...new Set([...e.laterFindings, finding])] });
    return null;
  },
  says: (d) => `"${d.finding}" to be looked at later`,
});
