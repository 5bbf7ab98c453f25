import { z } from 'zod';
import { placementSchema, retimeSchema, transitionSchema } from '../../edit';
import { cdlSchema } from '../../grade';
import { ZERO } from '../../time';
import { put } from '../draft';
import { kind } from '../kind';
import { eventKey, onEvent } from '../scope';

/** What is taken over from another list of the same cut in place of what this one says. */
export const carriedSchema = z
  .object({
    clipName: z.string(),
    fileName: z.string(),
    reel: z.string(),
    retime: retimeSchema,
    source: z.object({ in: z.int(), out: z.int() }),
    transitionIn: transitionSchema.nullable(),
    placement: placementSchema.nullable(),
    cdl: cdlSchema.nullable(),
  })
  .partial();
export type Carried = z.infer<typeof carriedSchema>;

/** What is copied, as people call it. */
const WORDS: Record<keyof Carried, string> = {
  reel: 'reel',
  clipName: 'clip name',
  fileName: 'file name',
  retime: 'speed',
  source: 'source',
  transitionIn: 'transition',
  placement: 'size and position',
  cdl: 'grade',
};

/** Takes over what another list of the same cut says of an event. */
export const carry = kind({
  schema: z.object({ kind: z.literal('carry'), event: eventKey, from: z.string().max(500), carried: carriedSchema }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event, carried }) {
    // A source that was carried over stands at the record in and out.
    put(draft, event, carried.retime || carried.source ? { ...carried, anchor: null, phase: ZERO } : carried);
    return null;
  },
  says: (d) =>
    `${Object.keys(d.carried)
      .map((field) => WORDS[field as keyof Carried])
      .join(', ')} copied from ${d.from}`,
});
