import { z } from 'zod';
import type { EditList, Identity } from '../edit';
import { identitiesOf } from '../edit';
import { rateSchema } from '../time';
import { type Decision, decisionSchema } from './decision';

const frames = z.object({ in: z.int(), out: z.int() });

const identitySchema: z.ZodType<Identity> = z.object({
  key: z.string(),
  number: z.string(),
  track: z.string(),
  kind: z.enum(['clip', 'black', 'bars', 'generator', 'title']),
  clipName: z.string(),
  fileName: z.string(),
  reel: z.string(),
  sourceRate: rateSchema,
  source: frames,
  record: frames,
  speed: z.string(),
});

const entrySchema = z.object({
  decision: decisionSchema,
  who: z.string().max(200).optional(),
  /** Milliseconds since 1970, UTC. */
  when: z.int().min(0).optional(),
  why: z.string().max(10_000).optional(),
});

/**
 * A job's decisions as one JSON document: those that stand, in their order, and who the events were that they were made
 * about, so that they find them in another reading or version of the cut.
 */
export const decisionsFileSchema = z.object({
  gemello: z.literal('decisions'),
  version: z.literal(1),
  title: z.string(),
  events: z.array(identitySchema).max(1_000_000),
  decisions: z.array(entrySchema).max(1_000_000),
});
export type DecisionsFile = z.infer<typeof decisionsFileSchema>;
export type DecisionEntry = z.infer<typeof entrySchema>;

export const decisionsFile = (list: EditList | null, title: string, decisions: readonly DecisionEntry[]): DecisionsFile => ({
  gemello: 'decisions',
  version: 1,
  title,
  events: list ? identitiesOf(list) : [],
  decisions: [...decisions],
});

/** Reads what `decisionsFile` made; a bare array of decisions is taken too. What is wrong comes back as a sentence with its place. */
export function readDecisionsFile(text: string): { readonly file: DecisionsFile } | { readonly problem: string } {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return { problem: `It is not whole JSON (${(error as Error).message}).` };
  }
  const wrapped = Array.isArray(json)
    ? { gemello: 'decisions', version: 1, title: '', events: [], decisions: json.map((decision: unknown) => ({ decision })) }
    : json;
  const parsed = decisionsFileSchema.safeParse(wrapped);
  if (parsed.success) return { file: parsed.data };
  const [issue] = parsed.error.issues;
  return { problem: `It is no file of decisions: ${issue?.path.join('.') || 'the document'}: ${issue?.message}.` };
}

/** The decisions of a file, without who made them. */
export const decisionsOf = (file: DecisionsFile): Decision[] => file.decisions.map((d) => d.decision);
