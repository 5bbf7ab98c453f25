import { z } from 'zod';
import { rateSchema } from '../../time';
import { put } from '../draft';
import { kind, nameOf } from '../kind';
import { eventKey, onEvent } from '../scope';

/** Links an event to its original, which begins at a frame from 0. Slips made before spoke of another source and are gone. */
export const pair = kind({
  schema: z.object({
    kind: z.literal('pair'),
    event: eventKey,
    original: z.string().min(1),
    sourceStartFrame: z.int(),
    rate: rateSchema.nullish(),
  }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event, original, sourceStartFrame, rate }) {
    put(draft, event, { pair: { original, sourceStartFrame, acceptedAt: sourceStartFrame, rate: rate ?? null } });
    return null;
  },
  says: (d) => `paired with ${nameOf(d.original)} from its frame ${d.sourceStartFrame}`,
  moved: (d, at) => ({ ...d, original: at(d.original) }),
});
