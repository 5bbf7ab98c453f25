import { z } from 'zod';
import { reorderLayers } from '../draft';
import { kind } from '../kind';
import { refuse } from '../refusal';
import { ON_CUT } from '../scope';

/** Puts the picture layers in another order, from the bottom up. Layers that it does not name stay above those it does, as they are. */
export const layerOrder = kind({
  schema: z.object({ kind: z.literal('layer-order'), order: z.array(z.string().min(1).max(50)).min(1).max(200) }),
  scope: () => ON_CUT,
  apply(draft, { order }) {
    const names = draft.tracks.filter((t) => t.track.kind === 'picture').map((t) => t.track.name);
    if (order.some((name) => !names.includes(name))) return refuse('no-such-layer');
    draft.replaced.push({ event: '', field: 'layerOrder', before: names });
    reorderLayers(draft, [...order, ...names.filter((name) => !order.includes(name))]);
    return null;
  },
  says: (d) => `layers from the bottom up: ${d.order.join(', ')}`,
});
