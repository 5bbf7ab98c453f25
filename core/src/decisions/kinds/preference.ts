import { z } from 'zod';
import { preferenceSchema } from '../../pairing';
import { kind } from '../kind';
import { ON_CUT } from '../scope';

/** Which of several candidates that fit equally well comes first. */
export const preference = kind({
  schema: z.object({ kind: z.literal('preference'), prefer: preferenceSchema }),
  scope: () => ON_CUT,
  apply(draft, { prefer }) {
    draft.replaced.push({ event: '', field: 'preference', before: draft.settings.preference });
    draft.settings.preference = prefer;
    return null;
  },
  says: ({ prefer }) =>
    `of equal candidates the ${prefer.raster} first${prefer.folders.length > 0 ? `, those in ${prefer.folders.join(', ')} before others` : ''}`,
});
