import { z } from 'zod';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { scopeSchema } from '../scope';

const OF = { reel: 'reels', 'clip-name': 'clip names', 'file-name': 'file names' } as const;

/** Says what the reel field of the list holds the first characters of; null: a reel, as usual. */
export const reelPattern = kind({
  schema: z.object({
    kind: z.literal('reel-pattern'),
    scope: scopeSchema,
    takes: z.object({ of: z.enum(['reel', 'clip-name', 'file-name']), length: z.int().min(4).max(64) }).nullable(),
  }),
  scope: (d) => d.scope,
  apply(draft, { scope, takes }) {
    for (const event of eventsIn(draft, scope)) put(draft, event.key, { reelTakes: takes });
    return null;
  },
  says: ({ takes }) =>
    takes ? `reels of the list are the first ${takes.length} characters of ${OF[takes.of]}` : 'reels of the list are reels',
});
