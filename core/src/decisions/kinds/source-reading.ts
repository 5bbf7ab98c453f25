import { z } from 'zod';
import { CARRY_MODES } from '../../edit';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { scopeSchema } from '../scope';

const CARRIED = { label: 'by its label', 'real-time': 'by real time', 'frame-count': 'frame for frame' } as const;

/**
 * How source timecode of the list is to be read: whether its numbers begin at midnight or at the first frame of each clip,
 * and how they are carried to originals of another rate. Null: from midnight, carried as the rules say.
 */
export const sourceReading = kind({
  schema: z.object({
    kind: z.literal('source-reading'),
    scope: scopeSchema,
    reading: z.object({ from: z.enum(['midnight', 'clip']), carry: z.enum(CARRY_MODES).nullable() }).nullable(),
  }),
  scope: (d) => d.scope,
  apply(draft, { scope, reading }) {
    for (const event of eventsIn(draft, scope)) put(draft, event.key, { sourceReading: reading });
    return null;
  },
  says: ({ reading }) =>
    reading === null
      ? 'source timecode is read as it stands'
      : `source timecode counts from ${reading.from === 'clip' ? 'the first frame of each clip' : 'midnight'}${reading.carry ? `, carried ${CARRIED[reading.carry]}` : ''}`,
});
