import { z } from 'zod';
import { kind } from '../kind';
import { ON_CUT } from '../scope';

/** Says that a cause which was proposed for many events is none: it is not proposed again. `cause` is its id, `text` what it said. */
export const refuseCause = kind({
  schema: z.object({ kind: z.literal('refuse-cause'), cause: z.string().min(1).max(20_000), text: z.string().max(500) }),
  scope: () => ON_CUT,
  says: (d) => `refused: ${d.text}`,
});
