import { z } from 'zod';
import { put } from '../draft';
import { kind } from '../kind';
import { eventKey, onEvent } from '../scope';

const name = z.string().max(500).optional();

/** Gives an event another reel, clip name or file name than its list has; what is not said stays, and so does its pair. */
export const names = kind({
  schema: z.object({ kind: z.literal('names'), event: eventKey, reel: name, clipName: name, fileName: name }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event, reel, clipName, fileName }) {
    put(draft, event, {
      ...(reel === undefined ? {} : { reel }),
      ...(clipName === undefined ? {} : { clipName }),
      ...(fileName === undefined ? {} : { fileName }),
    });
    return null;
  },
  says: ({ reel, clipName, fileName }) =>
    [
      reel === undefined ? '' : `reel ${reel || 'none'}`,
      clipName === undefined ? '' : `clip name ${clipName || 'none'}`,
      fileName === undefined ? '' : `file name ${fileName || 'none'}`,
    ]
      .filter(Boolean)
      .join(', '),
});
