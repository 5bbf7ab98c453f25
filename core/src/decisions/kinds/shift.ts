import { z } from 'zod';
import { eventsIn, put } from '../draft';
import { framesText, kind } from '../kind';
import { scopeSchema, shiftOfFrames } from '../scope';

/** What must be added to the list's source timecode to reach that of the originals, in frames of the list's source. */
export const shift = kind({
  schema: z.object({ kind: z.literal('shift'), scope: scopeSchema, frames: shiftOfFrames }),
  scope: (d) => d.scope,
  apply(draft, { scope, frames }) {
    for (const event of eventsIn(draft, scope)) put(draft, event.key, { shift: frames });
    return null;
  },
  says: (d) => `source timecode shifted by ${framesText(d.frames)}`,
});
