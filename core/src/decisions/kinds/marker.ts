import { z } from 'zod';
import { lengthOf } from '../../time';
import { find, put } from '../draft';
import { kind } from '../kind';
import { refuse } from '../refusal';
import { eventKey, onEvent } from '../scope';

/** Pins a note to a frame of an event, `at` frames after its record in. */
export const marker = kind({
  schema: z.object({
    kind: z.literal('marker'),
    event: eventKey,
    at: z.int().min(0),
    text: z.string().max(2000),
    colour: z.string().max(40).nullable().default(null),
  }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, at, text, colour }) {
    const found = find(draft, key);
    if (!found) return refuse('no-such-event');
    const { event } = found;
    if (at >= lengthOf(event.record)) return refuse('outside-event', { at: lengthOf(event.record) - 1 });
    put(draft, key, { markers: [...event.markers, { record: event.record.in + at, colour, text }] });
    return null;
  },
  says: (d) => `marked "${d.text}"`,
});
