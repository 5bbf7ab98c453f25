import { z } from 'zod';
import { fieldFault, templateFault, USUAL_TEMPLATE } from './names';
import { RETURN_WORDS } from './wording';

/**
 * What clips may be written as: file ending, how it is said, and how many bytes a pixel takes at most: somewhat above
 * the target rates of each kind (from memory), and what is measured (media/test/clips.test.ts). Movies keep timecode and reel.
 * `is`: a movie to work with, a light one for the eye alone, or a folder of numbered frames. `alpha`: an alpha is kept.
 */
export const CLIP_CODECS = {
  intra: {
    extension: 'mov',
    is: 'movie',
    says: 'Intra, 10 bits 4:2:2 (ProRes HQ class), .mov',
    bytes: 0.6,
    alpha: true,
  },
  'intra-light': { extension: 'mov', is: 'movie', says: 'Intra, lighter (ProRes LT class), .mov', bytes: 0.3 },
  'intra-vc3': { extension: 'mov', is: 'movie', says: 'Intra, 10 bits 4:2:2 (DNxHR HQX class), .mov', bytes: 0.6 },
  'intra-mxf': { extension: 'mxf', is: 'movie', says: 'Intra, 10 bits 4:2:2 (DNxHR HQX class), .mxf', bytes: 0.6 },
  dpx: { extension: 'dpx', is: 'frames', says: 'DPX frames, 10 bits', bytes: 4.1 },
  exr: { extension: 'exr', is: 'frames', says: 'OpenEXR frames, half float, values as they are', bytes: 6.5 },
  tiff: { extension: 'tif', is: 'frames', says: 'TIFF frames, 16 bits; rate and reel in the list alone', bytes: 6.1 },
  review: { extension: 'mov', is: 'light', says: 'H.264 to look at, .mov', bytes: 0.05 },
  'review-hevc': { extension: 'mov', is: 'light', says: 'HEVC to look at, .mov', bytes: 0.05 },
} as const satisfies Record<string, { extension: string; is: 'movie' | 'light' | 'frames'; says: string; bytes: number; alpha?: true }>;
export type ClipCodec = keyof typeof CLIP_CODECS;
/** Whether an alpha of an original goes along; else its pictures lie over black. */
export const keepsAlpha = (codec: ClipCodec): boolean => 'alpha' in CLIP_CODECS[codec];
export const clipCodecs = Object.keys(CLIP_CODECS) as [ClipCodec, ...ClipCodec[]];

export const templateSchema = z
  .string()
  .trim()
  .min(1)
  .max(200)
  .default(USUAL_TEMPLATE)
  .superRefine((template, context) => {
    const fault = templateFault(template);
    if (fault) context.addIssue({ code: 'custom', message: fault });
  });

/** What a burn-in may take in, in braces: `source` and `record` are timecodes of the picture it lies on. */
export const BURN_FIELDS = ['name', 'event', 'reel', 'title', 'source', 'record'] as const;
export type BurnField = (typeof BURN_FIELDS)[number];
export const BURN_PLACES = ['foot', 'head'] as const;
/** Height of the band of text over that of the picture. */
export const BURN_SIZES = { small: 0.04, usual: 0.06, large: 0.1 } as const;
export type BurnSize = keyof typeof BURN_SIZES;
const burnSizes = Object.keys(BURN_SIZES) as [BurnSize, ...BurnSize[]];

/** Where lists of a return say that its clips are: beside them, by name alone; in the folder they are written to; or in a folder as another machine calls it. */
export const LINKS = ['beside', 'here', 'elsewhere'] as const;

/** How large clips are: as their originals, or no larger than the cut, each in its own shape; what is placed has the cut's. */
export const RETURN_RASTERS = ['original', 'cut'] as const;

/** What may be heard with a clip. */
export const RETURN_SOUNDS = ['none', 'original', 'guide', 'reference'] as const;

/**
 * How a return is to be written. `clips`: one for each event, or one for each stretch of source that events share. `speed`, `placement`,
 * `grade`: left to the list and the files beside it, or baked into the pictures. `sound`: the original's own, or the guide sound or that of the
 * reference under the event, along with clips that are movies. `links`: where lists say the clips are, `linksIn`: that folder as another machine calls it. `burnIn`: a template of text (`BURN_FIELDS`) in the pictures of clips to look at; empty for none.
 */
export const returnAskedSchema = z
  .object({
    handles: z.coerce.number().int().min(0).max(10_000).default(12),
    template: templateSchema,
    codec: z.enum(clipCodecs).default('intra'),
    clipRaster: z.enum(RETURN_RASTERS).default('original'),
    clips: z.enum(['event', 'span']).default('event'),
    speed: z.enum(['list', 'baked']).default('list'),
    placement: z.enum(['list', 'baked']).default('list'),
    grade: z.enum(['baked', 'beside']).default('baked'),
    sound: z.enum(RETURN_SOUNDS).default('none'),
    burnIn: z
      .string()
      .trim()
      .max(120)
      .default('')
      .superRefine((template, context) => {
        const fault = template && fieldFault(template, BURN_FIELDS);
        if (fault) context.addIssue({ code: 'custom', message: fault });
      }),
    burnAt: z.enum(BURN_PLACES).default('foot'),
    burnSize: z.enum(burnSizes).default('usual'),
    links: z.enum(LINKS).default('beside'),
    linksIn: z.string().trim().max(1024).default(''),
  })
  .superRefine(({ codec, burnIn, sound, links, linksIn }, context) => {
    const { is } = CLIP_CODECS[codec];
    if (burnIn !== '' && is !== 'light') context.addIssue({ code: 'custom', path: ['burnIn'], message: RETURN_WORDS.burnInToKeep() });
    if (sound !== 'none' && is === 'frames') context.addIssue({ code: 'custom', path: ['sound'], message: RETURN_WORDS.soundInFrames() });
    if (links === 'elsewhere' && linksIn === '') context.addIssue({ code: 'custom', path: ['linksIn'], message: RETURN_WORDS.noFolder() });
  });
export type ReturnAsked = z.infer<typeof returnAskedSchema>;
export const USUAL_RETURN: ReturnAsked = returnAskedSchema.parse({});
