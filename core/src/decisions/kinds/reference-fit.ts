import { z } from 'zod';
import { kind } from '../kind';
import { ON_CUT } from '../scope';

const share = z.number().min(0).max(1);
const part = z
  .object({ left: share, top: share, right: share, bottom: share })
  .refine((p) => p.left < p.right && p.top < p.bottom, 'The part of the reference must have a width and a height.');

/** The part of the reference that shows the picture, in shares of its width and height; null: as the proof finds it. */
export const referenceFit = kind({
  schema: z.object({ kind: z.literal('reference-fit'), part: part.nullable() }),
  scope: () => ON_CUT,
  apply(draft, d) {
    draft.replaced.push({ event: '', field: 'referenceFit', before: draft.settings.referenceFit });
    draft.settings.referenceFit = d.part;
    return null;
  },
  says: (d) => (d.part ? 'the picture area of the reference set' : 'the picture area of the reference as it is found'),
});
