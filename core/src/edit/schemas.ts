import { z } from 'zod';
import { type Fraction, fraction, fractionOf } from '../time';
import { FILLING, FITS, type Placement, type Pose, type PoseKey, RATE_MODES, type Retime, type Transition } from './model';

const share = z.number();
const crop = z.object({ left: share, right: share, top: share, bottom: share });

/** A fraction; a decimal, as earlier versions wrote speeds, is taken for the fraction it stands for. */
export const fractionSchema: z.ZodType<Fraction> = z
  .union([z.number(), z.object({ num: z.int(), den: z.int().min(1) })])
  .transform((f) => (typeof f === 'number' ? fractionOf(f) : fraction(f.num, f.den)));

const poseFields = {
  scaleX: share,
  scaleY: share,
  x: share,
  y: share,
  rotation: share,
  crop,
  opacity: z.number().min(0).max(1),
};

/** Earlier versions knew one scale for both directions. */
const inBothDirections = (value: unknown): unknown => {
  if (typeof value !== 'object' || value === null || !('scale' in value)) return value;
  const { scale, ...rest } = value;
  return { scaleX: scale, scaleY: scale, ...rest };
};

export const poseSchema: z.ZodType<Pose> = z.object(poseFields);
const poseKeySchema: z.ZodType<PoseKey> = z.object({ ...poseFields, record: share });

/** The values of the model that come back from a file or a decision, checked. */
export const placementSchema: z.ZodType<Placement> = z.preprocess(
  inBothDirections,
  z.object({
    ...poseFields,
    flipX: z.boolean().default(false),
    flipY: z.boolean().default(false),
    fit: z.enum(FITS).nullable().default(FILLING.fit),
    keys: z.array(poseKeySchema).max(100_000).default([]),
  }),
);

export const fitSchema = z.enum(FITS);
export const rateModeSchema = z.enum(RATE_MODES);

/** Frames of no cut go further. */
const offset = z.number().min(-1e9).max(1e9);
export const speedKeysSchema = z.array(z.object({ record: offset, source: offset })).min(2);

export const retimeSchema: z.ZodType<Retime> = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('natural') }),
  z.object({ kind: z.literal('constant'), speed: fractionSchema.refine((f) => f.num !== 0, 'A speed of 0 is a freeze.') }),
  z.object({ kind: z.literal('freeze') }),
  z.object({ kind: z.literal('keyed'), keys: speedKeysSchema }),
]);

export const wipeLookSchema = z.object({
  reverse: z.boolean(),
  softness: z.number().min(0).max(1),
  border: z.object({ width: z.number().min(0).max(1), colour: z.tuple([share, share, share]) }).nullable(),
});

export const transitionSchema: z.ZodType<Transition> = z.object({
  type: z.enum(['dissolve', 'wipe', 'key']),
  duration: z.int().min(0),
  before: z.int(),
  from: z.enum(['previous', 'black']),
  wipeCode: z.string().nullable(),
  look: wipeLookSchema.optional(),
});
