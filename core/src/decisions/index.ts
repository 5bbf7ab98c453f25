import { z } from 'zod';
import { type Cdl, placementSchema, retimeSchema, transitionSchema } from '../edit';
import { cdlSchema } from '../grade/files';
import { type Move, movedPath, type OriginalWord, originalWordSchemas } from '../originals';
import type { Frames } from '../time';

const event = z.string().min(1).max(200);

/** What is taken over from another list of the same cut in place of what this one says. */
const carriedSchema = z
  .object({
    clipName: z.string(),
    fileName: z.string(),
    reel: z.string(),
    retime: retimeSchema,
    source: z.object({ in: z.int(), out: z.int() }),
    transitionIn: transitionSchema.nullable(),
    placement: placementSchema.nullable(),
    cdl: cdlSchema.nullable(),
  })
  .partial();
export type Carried = z.infer<typeof carriedSchema>;

/**
 * One thing a person, or a rule on their behalf, settled. The log of decisions is append-only;
 * an undone one is marked as withdrawn and no longer given to `settle`.
 */
export const decisionSchema = z.discriminatedUnion('kind', [
  ...originalWordSchemas,
  z.object({ kind: z.literal('pair'), event, original: z.string().min(1), sourceStartFrame: z.int() }),
  z.object({ kind: z.literal('unpair'), event }),
  z.object({ kind: z.literal('slip'), event, frames: z.int().min(-1_000_000).max(1_000_000) }),
  z.object({ kind: z.literal('exempt'), event, exempt: z.boolean() }),
  z.object({ kind: z.literal('carry'), event, from: z.string().max(500), carried: carriedSchema }),
  z.object({ kind: z.literal('grade'), event, cdl: cdlSchema.nullable() }),
]);
export type Decision = z.infer<typeof decisionSchema>;
/** A decision about an event of the cut; the others are about originals and hold for every cut of the job. */
export type EventDecision = Exclude<Decision, OriginalWord>;

export const isAboutEvent = (decision: Decision): decision is EventDecision => 'event' in decision;
export const isAboutOriginal = (decision: Decision): decision is OriginalWord => !('event' in decision);

/** The decision with its paths as they are after volumes moved. */
export function movedDecision(d: Decision, moves: readonly Move[]): Decision {
  if (moves.length === 0) return d;
  const at = (path: string) => movedPath(path, moves);
  switch (d.kind) {
    case 'pair':
    case 'correct':
      return { ...d, original: at(d.original) };
    case 'proxy':
      return { ...d, original: at(d.original), of: d.of && at(d.of) };
    case 'join':
      return { ...d, original: at(d.original), parts: d.parts.map(at) };
    case 'correct-folder':
      return { ...d, folder: at(d.folder) };
    default:
      return d;
  }
}

/** What stands for one event once all its decisions are taken in order. */
export interface Settled {
  /** The accepted original and the frame in it (from 0) where the event begins, slips not counted. */
  readonly pair: { readonly original: string; readonly sourceStartFrame: Frames } | null;
  /** The sum of the accepted slips: added to the source in point. */
  readonly slip: Frames;
  /** Null: as the list says. */
  readonly exempt: boolean | null;
  /** Undefined: as the list says; null: no grade. */
  readonly grade: Cdl | null | undefined;
  /** Null: nothing was carried over from another list. */
  readonly carried: Carried | null;
}

const UNSETTLED: Settled = { pair: null, slip: 0, exempt: null, grade: undefined, carried: null };

/** Takes the decisions in order. A new pair, or its removal, lets earlier slips go: they spoke of another source. */
export function settle(decisions: readonly Decision[]): Map<string, Settled> {
  const settled = new Map<string, Settled>();
  for (const decision of decisions)
    if (isAboutEvent(decision)) settled.set(decision.event, apply(settled.get(decision.event) ?? UNSETTLED, decision));
  return settled;
}

/** What stands for an event of which nothing was decided. */
export const settledFor = (settled: ReadonlyMap<string, Settled>, eventId: string): Settled => settled.get(eventId) ?? UNSETTLED;

function apply(before: Settled, decision: EventDecision): Settled {
  switch (decision.kind) {
    case 'pair':
      return { ...before, pair: { original: decision.original, sourceStartFrame: decision.sourceStartFrame }, slip: 0 };
    case 'unpair':
      return { ...before, pair: null, slip: 0 };
    case 'slip':
      return { ...before, slip: before.slip + decision.frames };
    case 'exempt':
      return { ...before, exempt: decision.exempt };
    case 'grade':
      return { ...before, grade: decision.cdl };
    case 'carry':
      return { ...before, carried: { ...before.carried, ...decision.carried } };
  }
}
