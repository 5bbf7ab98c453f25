import { z } from 'zod';
import { sourceSpan } from '../../conform';
import { find, lacksMore, put, runAs, tailOf } from '../draft';
import { kind, nameOf } from '../kind';
import { refuse } from '../refusal';
import { eventKey, onEvent } from '../scope';

/**
 * Moves the source under an event that stays where it is. The frame is absolute and names its original, so that undoing
 * a pair hands its slips to no other, and two slips are not added up.
 */
export const slip = kind({
  schema: z.object({ kind: z.literal('slip'), event: eventKey, original: z.string().min(1), sourceStartFrame: z.int() }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, original, sourceStartFrame }) {
    const found = find(draft, key);
    if (!found) return refuse('no-such-event');
    const { event } = found;
    if (!event.pair) return refuse('not-paired');
    if (event.pair.original !== original) return refuse('other-source');
    const then = { ...event, pair: { ...event.pair, sourceStartFrame } };
    const tail = tailOf(found);
    if (lacksMore(draft, event, then, tail)) {
      const span = sourceSpan(event, runAs(draft, event), tail);
      const last = (draft.room(original) ?? 0) - span.out;
      const nearest = Math.max(0 - span.in, Math.min(last, sourceStartFrame));
      return refuse('source-ends', nearest === event.pair.sourceStartFrame ? null : { sourceStartFrame: nearest });
    }
    put(draft, key, { pair: then.pair });
    return null;
  },
  says: (d) => `slipped to frame ${d.sourceStartFrame} of ${nameOf(d.original)}`,
  moved: (d, at) => ({ ...d, original: at(d.original) }),
});
