import { z } from 'zod';
import { rulesSchema } from '../../pairing';
import { eventsIn } from '../draft';
import { kind } from '../kind';
import { ON_CUT, scopeSchema } from '../scope';

/** Which criteria must hold for a candidate to count, in the whole cut or in a part of it. Accepted pairs stand whatever the rules. */
export const rules = kind({
  schema: z.object({ kind: z.literal('rules'), rules: rulesSchema, scope: scopeSchema.optional() }),
  scope: (d) => d.scope ?? ON_CUT,
  apply(draft, { rules: given, scope }) {
    // Decisions of earlier versions hold rules without lines.
    const set = rulesSchema.parse(given);
    if (!scope || scope.of === 'cut') {
      draft.replaced.push({ event: '', field: 'rules', before: draft.settings.rules });
      draft.settings.rules = set;
      return null;
    }
    for (const { key } of eventsIn(draft, scope)) {
      draft.replaced.push({ event: key, field: 'rules', before: draft.rulesOf.get(key) ?? null });
      draft.rulesOf.set(key, set);
    }
    return null;
  },
  says: ({ rules: given }) => {
    const { name, lines } = rulesSchema.parse(given);
    return `pairs by the rules ${name === '' ? `of ${lines.length === 1 ? 'one line' : `${lines.length} lines`}` : `“${name}”`}`;
  },
});
