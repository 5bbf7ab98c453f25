import { z } from 'zod';
import { type StandingEvent, type Transition, transitionSchema } from '../../edit';
import { lengthOf } from '../../time';
import { type Draft, type Found, find, lacksMore, put, sharedAtHead, sharedAtTail, tailOf } from '../draft';
import { kind } from '../kind';
import { type RefusalCode, refuse } from '../refusal';
import { eventKey, onEvent } from '../scope';

/**
 * Gives an event another transition at its head, or none. `before` says how far ahead of the cut it begins: half its
 * length centres it, 0 begins it at the cut, its whole length ends it there, less than 0 begins it later.
 */
export const transition = kind({
  schema: z.object({ kind: z.literal('transition'), event: eventKey, transition: transitionSchema.nullable() }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, transition: wanted }) {
    const found = find(draft, key);
    if (!found) return refuse('no-such-event');
    if (wanted) {
      const why = reasonAgainst(draft, found, wanted);
      if (why) return refuse(why, nearest(draft, found, wanted));
    }
    put(draft, key, { transitionIn: wanted });
    return null;
  },
  says: ({ transition: t }) => (t ? `${t.type}${t.wipeCode ? ` ${t.wipeCode}` : ''} of ${t.duration} frames` : 'its transition removed'),
});

function reasonAgainst(draft: Draft, found: Found, join: Transition): RefusalCode | null {
  const { event, previous, next } = found;
  const leaves = join.from === 'previous';
  if (leaves && previous?.record.out !== event.record.in) return 'nothing-to-leave';
  const end = join.duration - join.before;
  if (join.duration < 1 || end > lengthOf(event.record) - sharedAtTail(event, next)) return 'transition-too-long';
  if (leaves && previous && join.before > lengthOf(previous.record) - sharedAtHead(previous)) return 'transition-too-long';
  if (!leaves && join.before > 0 && previous && event.record.in - join.before < previous.record.out) return 'transition-too-long';
  const then: StandingEvent = { ...event, transitionIn: join };
  if (lacksMore(draft, event, then, tailOf(found))) return 'source-ends';
  if (leaves && previous) {
    const tail = tailOf({ ...found, event: previous, index: found.index - 1 });
    if (lacksMore(draft, previous, previous, tail, Math.max(0, end))) return 'source-ends';
  }
  return null;
}

/** The longest transition that begins as far ahead of the cut in proportion and can be. */
function nearest(draft: Draft, found: Found, join: Transition): { transition: Transition } | null {
  for (let duration = join.duration - 1; duration > 0; duration--) {
    const before = Math.round((join.before * duration) / join.duration);
    const made = { ...join, duration, before };
    if (reasonAgainst(draft, found, made) === null) return { transition: made };
  }
  return null;
}
