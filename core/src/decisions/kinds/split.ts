import { z } from 'zod';
import { trimmed } from '../../conform';
import { lengthOf } from '../../time';
import { addBeside, find, put, sharedAtHead, sharedAtTail } from '../draft';
import { kind } from '../kind';
import { refuse } from '../refusal';
import { eventKey, onEvent } from '../scope';

/** The key of the second half of an event that was split `at` frames after its record in. */
export const halfKey = (event: string, at: number): string => `${event}+${at}`;

/** Cuts an event in two, `at` frames after its record in; every picture stays where it is. */
export const split = kind({
  schema: z.object({ kind: z.literal('split'), event: eventKey, at: z.int().min(1) }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, at }) {
    const found = find(draft, key);
    if (!found) return refuse('no-such-event');
    const { event, next } = found;
    const length = lengthOf(event.record);
    const earliest = Math.max(1, sharedAtHead(event));
    const last = length - Math.max(1, sharedAtTail(event, next));
    if (at < earliest || at > last)
      return refuse('outside-event', last >= earliest ? { at: Math.max(earliest, Math.min(at, last)) } : null);
    const cut = event.record.in + at;
    const first = trimmed(event, { in: event.record.in, out: cut });
    const second = {
      ...trimmed(event, { in: cut, out: event.record.out }),
      key: halfKey(key, at),
      transitionIn: null,
      linked: [],
      notes: [],
      markers: event.markers.filter((m) => m.record >= cut),
    };
    addBeside(draft, key, second);
    put(draft, key, {
      record: first.record,
      anchor: first.anchor,
      placement: first.placement,
      markers: event.markers.filter((m) => m.record < cut),
    });
    return null;
  },
  says: (d) => `split ${d.at} frames after its start`,
});
