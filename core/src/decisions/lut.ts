import { z } from 'zod';
import { LUT_BETWEEN, type LutUse } from '../edit';

/** How a decision names a LUT: by the path of its `.cube` file, and how it is looked up in; tetrahedrally where that is not said. */
export const lutFields = { lut: z.string().min(1).nullable(), between: z.enum(LUT_BETWEEN).optional() };

export const lutUse = ({ lut, between = 'tetrahedral' }: z.infer<z.ZodObject<typeof lutFields>>): LutUse | null =>
  lut === null ? null : { file: lut, between };
