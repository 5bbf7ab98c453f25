import { z } from 'zod';
import { trimmed } from '../../conform';
import { type Frames, lengthOf } from '../../time';
import { find, holdsTransitions, lacksMore, put, tailOf } from '../draft';
import { framesText, kind } from '../kind';
import { nearestFrames, type RefusalCode, refuse } from '../refusal';
import { eventKey, onEvent, shiftOfFrames } from '../scope';

/** Moves the cut between an event and the one before it; the one gets longer by what the other gets shorter. Positive: later. */
export const roll = kind({
  schema: z.object({ kind: z.literal('roll'), event: eventKey, frames: shiftOfFrames }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, frames }) {
    const found = find(draft, key);
    if (!found) return refuse('no-such-event');
    const { event, previous, next } = found;
    if (previous?.record.out !== event.record.in) return refuse('no-cut-there');
    const tail = tailOf(found);
    const tailBefore = tailOf({ ...found, event: previous, index: found.index - 1 });
    const moved = (n: Frames) => ({
      before: trimmed(previous, { in: previous.record.in, out: previous.record.out + n }),
      after: trimmed(event, { in: event.record.in + n, out: event.record.out }),
    });
    const reason = (n: Frames): RefusalCode | null => {
      const { before, after } = moved(n);
      if (lengthOf(before.record) < 1 || lengthOf(after.record) < 1) return 'too-short';
      if (!holdsTransitions(after, next) || !holdsTransitions(before, after)) return 'transition-too-long';
      return lacksMore(draft, event, after, tail) || lacksMore(draft, previous, before, tailBefore) ? 'source-ends' : null;
    };
    const why = reason(frames);
    if (why) {
      const nearest = nearestFrames(frames, reason);
      return refuse(why, nearest === null ? null : { frames: nearest });
    }
    const { before, after } = moved(frames);
    put(draft, previous.key, timing(before));
    put(draft, key, timing(after));
    return null;
  },
  says: (d) => `its cut rolled by ${framesText(d.frames)}`,
});

/** What a trim changes of an event. */
export const timing = ({ record, anchor, placement }: ReturnType<typeof trimmed>) => ({ record, anchor, placement });
