import { z } from 'zod';
import { rulesSchema } from '../../pairing';
import { kind } from '../kind';
import { ON_CUT } from '../scope';

/** Which criteria must hold for a candidate to count. Accepted pairs stand whatever the rules. */
export const rules = kind({
  schema: z.object({ kind: z.literal('rules'), rules: rulesSchema }),
  scope: () => ON_CUT,
  apply(draft, d) {
    draft.replaced.push({ event: '', field: 'rules', before: draft.settings.rules });
    draft.settings.rules = d.rules;
    return null;
  },
  says: ({ rules: r }) =>
    `pairs by reel ${r.reel}, name ${r.name}, ${r.need === 'both' ? 'both of them' : 'either'}, timecode ${r.timecode === 'must' ? 'must agree' : 'does not count'}`,
});
