import { z } from 'zod';
import { placementSchema } from '../../edit';
import { put } from '../draft';
import { kind } from '../kind';
import { eventKey, onEvent } from '../scope';

/** Gives an event another size, position, turn, crop, flip, opacity or fit, standing or moving; null: as the cut lays it. */
export const placement = kind({
  schema: z.object({ kind: z.literal('placement'), event: eventKey, placement: placementSchema.nullable() }),
  scope: (d) => onEvent(d.event),
  apply(draft, d) {
    put(draft, d.event, { placement: d.placement });
    return null;
  },
  says: ({ placement: p }) =>
    p
      ? `placed at ${Math.round(p.scaleX * 100)} %${p.keys.length > 0 ? `, moving over ${p.keys.length} keys` : ''}`
      : 'its placement removed',
});
