import { z } from 'zod';
import { type Move, movedPath, type OriginalWord, originalWordSchemas } from '../originals';
import type { Kind } from './kind';
import { KINDS } from './kinds';
import type { Scope } from './scope';

/**
 * One thing a person, or a rule on their behalf, settled. The log of decisions is append-only; an undone one is marked
 * as withdrawn and no longer taken in.
 */
export type Decision = { [K in keyof typeof KINDS]: z.infer<(typeof KINDS)[K]['schema']> }[keyof typeof KINDS];
/** A decision as a caller may write it: what has a usual value may be left out. */
export type DecisionInput = { [K in keyof typeof KINDS]: z.input<(typeof KINDS)[K]['schema']> }[keyof typeof KINDS];

const schemas = Object.values(KINDS).map((k) => k.schema);
export const decisionSchema = z.discriminatedUnion('kind', schemas as [(typeof schemas)[number]]) as unknown as z.ZodType<
  Decision,
  DecisionInput
>;

type AnyKind = Kind<z.ZodType<Decision>>;
/** The kind of a decision, as something that takes any: the kinds are told apart by their name. */
export const kindOf = (decision: Decision): AnyKind => KINDS[decision.kind] as unknown as AnyKind;

/** What a decision is about. */
export const scopeOf = (decision: Decision): Scope => kindOf(decision).scope(decision);

const ORIGINAL_WORDS = new Set<string>(originalWordSchemas.map((s) => s.shape.kind.value));
/** True for words about originals, which hold whatever the cut is. */
export const isAboutOriginal = (decision: Decision): decision is OriginalWord => ORIGINAL_WORDS.has(decision.kind);

/** The key of the one event a decision is about; null when it is about something else. */
export function eventOf(decision: Decision): string | null {
  const scope = scopeOf(decision);
  return scope.of === 'event' ? scope.event : null;
}

/** The decision about another event in place of the one it is about; `keys` gives the new key of every event it names. */
export function aboutEvent(decision: Decision, keys: (key: string) => string): Decision {
  const named = { ...decision } as Record<string, unknown>;
  if (typeof named.event === 'string') named.event = keys(named.event);
  if (decision.kind === 'rejoin') named.with = keys(decision.with);
  if ('scope' in decision && decision.scope?.of === 'event') named.scope = { of: 'event', event: keys(decision.scope.event) };
  return named as Decision;
}

/** What a decision does, in words that go on "Event 012: …". */
export const decisionText = (decision: Decision): string => kindOf(decision).says(decision);

/** The decision with its paths as they are after volumes and folders moved. */
export function movedDecision(decision: Decision, moves: readonly Move[]): Decision {
  const { moved } = kindOf(decision);
  return moves.length === 0 || !moved ? decision : moved(decision, (path) => movedPath(path, moves));
}

/** The folders that people said were moved, in order. */
export const folderMoves = (decisions: readonly Decision[]): Move[] =>
  decisions.flatMap((d) => (d.kind === 'folder-move' ? [{ from: d.from, to: d.to }] : []));

/** What was decided about each event, in words, by the key of the event. What was accepted of a finding is said beside that. */
export function decisionsByEvent(decisions: readonly Decision[]): Map<string, string[]> {
  const said = new Map<string, string[]>();
  for (const decision of decisions) {
    const event = eventOf(decision);
    if (event === null || decision.kind === 'accept-finding') continue;
    const text = decisionText(decision);
    said.set(event, [...(said.get(event) ?? []), text]);
  }
  return said;
}
