import { z } from 'zod';
import { FILLING, fitSchema } from '../../edit';
import { eventsIn, put } from '../draft';
import { kind } from '../kind';
import { cutScope, eventScope } from '../scope';

/** How pictures of another shape are laid into the frame: in the whole cut, or for one event. */
export const fit = kind({
  schema: z.object({ kind: z.literal('fit'), scope: z.discriminatedUnion('of', [eventScope, cutScope]), fit: fitSchema }),
  scope: (d) => d.scope,
  apply(draft, d) {
    if (d.scope.of === 'cut') {
      draft.replaced.push({ event: '', field: 'fit', before: draft.settings.fit });
      draft.settings.fit = d.fit;
    } else
      for (const event of eventsIn(draft, d.scope)) put(draft, event.key, { placement: { ...(event.placement ?? FILLING), fit: d.fit } });
    return null;
  },
  says: (d) =>
    `laid into the frame: ${{ inside: 'all of it inside', fill: 'filling it', stretch: 'stretched', 'one-to-one': 'pixel for pixel' }[d.fit]}`,
});
