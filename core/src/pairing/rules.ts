import { z } from 'zod';
import { CARRY_MODES } from '../edit';
import { STRICTNESS } from './criteria';

const strictness = z.enum(STRICTNESS);

/**
 * One line of rules: what must hold at once for a candidate to count. A criterion that is `off` is not asked.
 * `timecode`: `covers` asks for every source frame that the list names, `overlaps` for at least one of them.
 */
export const ruleLineSchema = z.strictObject({
  reel: strictness.default('off'),
  name: strictness.default('off'),
  /** Scene and take: that the list calls the clip after the slate of the original. */
  slate: strictness.default('off'),
  /** That its picture is that of the reference; `loose` takes it a few frames aside, at another speed or place in the frame, too. Says nothing while pictures were not compared. */
  picture: strictness.default('unless-conflict'),
  timecode: z.enum(['covers', 'overlaps', 'off']).default('overlaps'),
  /** Asks for an original of the list's own rate, for one of the cut's raster, for one in the folder that the list names, for one of which the content was measured and is what a manifest states. */
  rate: z.enum(['same', 'off']).default('off'),
  raster: z.enum(['same', 'off']).default('off'),
  folder: z.enum(['same', 'off']).default('off'),
  checksum: z.enum(['same', 'off']).default('off'),
});
export type RuleLine = z.infer<typeof ruleLineSchema>;

/** What a clip that nothing else leads to must agree in. */
const BY_PICTURE = { picture: 'loose', reel: 'unless-conflict', name: 'unless-conflict', timecode: 'off' } as const;

const line = (fields: z.input<typeof ruleLineSchema>): RuleLine => ruleLineSchema.parse(fields);

const setSchema = z.strictObject({
  /** What it is called; empty for one that was never named. */
  name: z.string().max(60).default(''),
  lines: z.array(ruleLineSchema).min(1).max(12),
  rates: z.enum(CARRY_MODES).default('label'),
});

/** Rules as they were before they had lines, which decisions of earlier versions hold: one strictness for reel and for name. */
const plainSchema = z.strictObject({
  name: z.enum(['exact', 'loose', 'off']).default('loose'),
  reel: z.enum(['exact', 'loose', 'off']).default('loose'),
  timecode: z.enum(['must', 'off']).default('must'),
  need: z.enum(['either', 'both']).default('either'),
  rates: z.enum(CARRY_MODES).default('label'),
});

/**
 * An ordered set of rules. The first line that any candidate of an event meets counts, and only those that meet it. `rates`
 * says how a source timecode is carried to an original of another rate. `{name, reel, timecode, need, rates}`, each of them
 * one word, is taken too and becomes lines.
 */
export const rulesSchema = z.union([setSchema, plainSchema.transform(inLines)]);
export type Rules = z.infer<typeof setSchema>;

function inLines({ name, reel, timecode, need, rates }: z.infer<typeof plainSchema>): Rules {
  const timed = timecode === 'must' ? 'overlaps' : 'off';
  const lines: RuleLine[] = [];
  if (reel !== 'off' && name !== 'off') lines.push(line({ reel, name, timecode: timed }));
  if (need === 'either' || lines.length === 0) {
    if (reel !== 'off') lines.push(line({ reel, name: 'unless-conflict', timecode: timed }));
    if (name !== 'off') lines.push(line({ name, reel: 'unless-conflict', timecode: timed }));
    if (name === 'loose' && reel === 'loose') {
      lines.push(line({ slate: 'exact', reel: 'unless-conflict', timecode: timed }));
      if (timecode === 'must') lines.push(line(BY_PICTURE));
    }
  }
  if (lines.length === 0) lines.push(line({ reel: 'unless-conflict', name: 'unless-conflict', timecode: 'covers' }));
  const ready = READY_RULES.find((set) => set.rates === rates && JSON.stringify(set.lines) === JSON.stringify(lines));
  return ready ?? { name: '', lines, rates };
}

/** The sets that are ready to be chosen. */
export const READY_RULES: readonly Rules[] = [
  {
    name: 'Card and clock',
    rates: 'label',
    lines: [
      line({ reel: 'loose', name: 'loose' }),
      line({ reel: 'loose', name: 'unless-conflict' }),
      line({ name: 'loose', reel: 'unless-conflict' }),
      line({ slate: 'exact', reel: 'unless-conflict' }),
      line(BY_PICTURE),
    ],
  },
  { name: 'To the letter', rates: 'label', lines: [line({ reel: 'exact', name: 'exact', timecode: 'covers' })] },
  { name: 'Reel and clock', rates: 'label', lines: [line({ reel: 'loose' })] },
  { name: 'Name and clock', rates: 'label', lines: [line({ name: 'loose' })] },
  { name: 'Names alone', rates: 'label', lines: [line({ name: 'exact', timecode: 'off' }), line({ name: 'loose', timecode: 'off' })] },
  {
    name: 'Picture alone',
    rates: 'label',
    lines: [line({ picture: 'exact', timecode: 'off' }), line({ picture: 'loose', timecode: 'off' })],
  },
  {
    name: 'Clock alone',
    rates: 'label',
    lines: [line({ reel: 'unless-conflict', name: 'unless-conflict', timecode: 'covers', rate: 'same' })],
  },
];

export const DEFAULT_RULES: Rules = READY_RULES[0] as Rules;

/** Which of equal candidates comes first: those below some folders before all others, then by what is asked of the picture. */
export const preferenceSchema = z.object({
  raster: z.enum(['largest', 'smallest']).default('largest'),
  folders: z.array(z.string().min(1)).max(100).default([]),
});
export type Preference = z.infer<typeof preferenceSchema>;

export const USUAL_PREFERENCE: Preference = preferenceSchema.parse({});
