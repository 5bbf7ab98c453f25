import { z } from 'zod';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { eventKey, onEvent } from '../scope';

/** Accepts a finding of a proof as it is: the difference is meant, or is not to be mended. */
export const acceptFinding = kind({
  schema: z.object({ kind: z.literal('accept-finding'), event: eventKey, finding: z.string().min(1).max(60) }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, finding }) {
    for (const e of eventsIn(draft, onEvent(key))) put(draft, key, { acceptedFindings: [...new Set([...e.acceptedFindings, finding])] });
    return null;
  },
  says: (d) => `"${d.finding}" accepted as it is`,
});
