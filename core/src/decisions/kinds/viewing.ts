import { z } from 'zod';
import { kind, nameOf } from '../kind';
import { ON_CUT } from '../scope';

/** The LUT that all pictures of the cut are viewed through, by the path of its `.cube` file; it is in no render. */
export const viewing = kind({
  schema: z.object({ kind: z.literal('viewing'), lut: z.string().min(1).nullable() }),
  scope: () => ON_CUT,
  apply(draft, { lut }) {
    draft.replaced.push({ event: '', field: 'viewing', before: draft.settings.viewing });
    draft.settings.viewing = lut;
    return null;
  },
  says: (d) => (d.lut ? `viewed through ${nameOf(d.lut)}` : 'viewed as it is'),
  moved: (d, at) => ({ ...d, lut: d.lut && at(d.lut) }),
});
