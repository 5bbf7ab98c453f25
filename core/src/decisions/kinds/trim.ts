import { z } from 'zod';
import { trimmed } from '../../conform';
import { type Frames, lengthOf } from '../../time';
import { find, holdsTransitions, lacksMore, put, tailOf } from '../draft';
import { framesText, kind } from '../kind';
import { nearestFrames, type RefusalCode, refuse } from '../refusal';
import { eventKey, onEvent, shiftOfFrames } from '../scope';
import { timing } from './roll';

/** Moves one edge of an event on the record; all pictures that are left stay where they were. Positive: later. */
export const trim = kind({
  schema: z.object({ kind: z.literal('trim'), event: eventKey, edge: z.enum(['in', 'out']), frames: shiftOfFrames }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, edge, frames }) {
    const found = find(draft, key);
    if (!found) return refuse('no-such-event');
    const { event, previous, next } = found;
    const tail = tailOf(found);
    const moved = (n: Frames) => trimmed(event, { ...event.record, [edge]: event.record[edge] + n });
    const reason = (n: Frames): RefusalCode | null => {
      const then = moved(n);
      if (lengthOf(then.record) < 1) return 'too-short';
      if (then.record.in < 0) return 'before-zero';
      if (edge === 'in' && n < 0 && previous && then.record.in < previous.record.out) return 'overlap';
      if (edge === 'out' && n > 0 && next && then.record.out > next.record.in) return 'overlap';
      if (!holdsTransitions(then, next)) return 'transition-too-long';
      return lacksMore(draft, event, then, tail, edge === 'out' ? 0 : tail) ? 'source-ends' : null;
    };
    const why = reason(frames);
    if (why) {
      const nearest = nearestFrames(frames, reason);
      return refuse(why, nearest === null ? null : { frames: nearest });
    }
    put(draft, key, timing(moved(frames)));
    return null;
  },
  says: (d) => `its ${d.edge === 'in' ? 'head' : 'tail'} trimmed by ${framesText(d.frames)}`,
});
