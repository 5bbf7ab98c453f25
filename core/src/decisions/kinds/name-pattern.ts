import { z } from 'zod';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { ON_CUT } from '../scope';

const pattern = z
  .string()
  .min(1)
  .max(200)
  .refine((text) => text.split('*').length === 2, 'A pattern has one * for the part that is kept.');

/**
 * Says how names in the list become names of originals: where a clip or file name looks like `find`, it also counts as
 * `becomes`, the part that `*` stands for being the same in both (`*_proxy` becomes `*`).
 */
export const namePattern = kind({
  schema: z.object({ kind: z.literal('name-pattern'), find: pattern, becomes: pattern }),
  scope: () => ON_CUT,
  apply(draft, { find, becomes }) {
    for (const event of eventsIn(draft, ON_CUT)) {
      const made = [event.clipName, event.fileName].flatMap((name) => renamed(name, find, becomes) ?? []);
      if (made.length > 0) put(draft, event.key, { aliases: [...new Set([...event.aliases, ...made])] });
    }
    return null;
  },
  says: (d) => `names like ${d.find} also count as ${d.becomes}`,
});

/** The name that a pattern makes of a name, extensions aside; null where it does not look like it. */
function renamed(name: string, find: string, becomes: string): string | null {
  const plain = name.replace(/\.[^.]{1,8}$/, '');
  const [head = '', tail = ''] = find.split('*');
  if (plain.length < head.length + tail.length) return null;
  const fits = plain.toLowerCase().startsWith(head.toLowerCase()) && plain.toLowerCase().endsWith(tail.toLowerCase());
  return fits ? becomes.replace('*', () => plain.slice(head.length, plain.length - tail.length)) : null;
}
