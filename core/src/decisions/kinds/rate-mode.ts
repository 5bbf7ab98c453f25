import { z } from 'zod';
import { rateModeSchema } from '../../edit';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { scopeSchema } from '../scope';

/** How originals of another rate run in the cut: in real time, or frame for frame. */
export const rateMode = kind({
  schema: z.object({ kind: z.literal('rate-mode'), scope: scopeSchema, mode: rateModeSchema }),
  scope: (d) => d.scope,
  apply(draft, { scope, mode }) {
    if (scope.of === 'cut') {
      draft.replaced.push({ event: '', field: 'rateMode', before: draft.settings.rateMode });
      draft.settings.rateMode = mode;
    } else for (const event of eventsIn(draft, scope)) put(draft, event.key, { rateMode: mode });
    return null;
  },
  says: (d) => ({ usual: 'other rates run as usual', 'real-time': 'runs in real time', 'frame-for-frame': 'runs frame for frame' })[d.mode],
});
