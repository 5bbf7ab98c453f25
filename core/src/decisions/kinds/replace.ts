import { z } from 'zod';
import { framesUnder } from '../../conform';
import { lengthOf, rateSchema, ZERO } from '../../time';
import { find, put } from '../draft';
import { kind } from '../kind';
import { refuse } from '../refusal';
import { eventKey, onEvent } from '../scope';

const name = z.string().max(500);

/**
 * Puts another source under an event: reel, names and source in of the right shot. `in` counts frames from 00:00:00:00 at
 * `rate` (the event's own where it is not said). The pair that was there spoke of the former source and is gone; speed,
 * place and length on the record stay.
 */
export const replace = kind({
  schema: z.object({
    kind: z.literal('replace'),
    event: eventKey,
    source: z.object({ reel: name, clipName: name, fileName: name, in: z.int().min(0), rate: rateSchema.nullish() }),
  }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, source }) {
    const found = find(draft, key);
    if (!found) return refuse('no-such-event');
    const { event } = found;
    const sourceRate = source.rate ?? event.sourceRate;
    const length = framesUnder({ ...event, sourceRate }, draft.rate, lengthOf(event.record));
    put(draft, key, {
      reel: source.reel,
      clipName: source.clipName,
      fileName: source.fileName,
      mediaPath: '',
      file: null,
      sourceRate,
      source: { in: source.in, out: source.in + length },
      anchor: null,
      phase: ZERO,
      pair: null,
    });
    return null;
  },
  says: (d) => `its source replaced by ${d.source.clipName || d.source.fileName || d.source.reel}`,
});
