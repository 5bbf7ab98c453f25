import { type EditList, pictureEvents, type Standing, type StandingEvent, withEvents } from '../edit';
import type { NamedCdl } from '../grade';
import { withoutExtension } from '../originals';
import type { Contender, Pairing, PairState } from '../pairing';
import type { Decision } from './decision';
import { onEvent } from './scope';

/** The decision that accepts one candidate for an event. */
export const acceptDecision = (event: string, chosen: Contender): Decision => ({
  kind: 'pair',
  event,
  original: chosen.original.path,
  sourceStartFrame: chosen.sourceStartFrame,
  rate: chosen.original.rate,
});

/** Which pairs nobody decided are taken for work nobody sits in front of: none, those with one candidate that fits, or the best of each. */
export const ACCEPTS = ['none', 'unambiguous', 'best'] as const;
export type Accept = (typeof ACCEPTS)[number];

const TAKEN: Record<Accept | 'best-or-doubtful', readonly PairState[]> = {
  none: [],
  unambiguous: ['proposed'],
  best: ['proposed', 'contested', 'short'],
  'best-or-doubtful': ['proposed', 'contested', 'short', 'doubtful'],
};

/**
 * The decisions that take what is proposed. Of contested ones the first is taken (the larger raster where all else is
 * equal); `best-or-doubtful` also takes what meets only some of the rules, to have something to look at.
 */
export const acceptPairs = (pairings: readonly Pairing[], accept: Accept | 'best-or-doubtful'): Decision[] =>
  pairings.flatMap((p) => (!p.accepted && p.chosen && TAKEN[accept].includes(p.state) ? [acceptDecision(p.event.key, p.chosen)] : []));

/** Events as they would stand with a candidate accepted; made once for each. */
const asProposed = new WeakMap<StandingEvent, { readonly chosen: Contender; readonly event: StandingEvent }>();

function withProposal(event: StandingEvent, chosen: Contender): StandingEvent {
  const known = asProposed.get(event);
  if (known?.chosen === chosen) return known.event;
  const { sourceStartFrame, original } = chosen;
  const pair = { original: original.path, sourceStartFrame, acceptedAt: sourceStartFrame, rate: original.rate };
  const made: StandingEvent = { ...event, pair };
  asProposed.set(event, { chosen, event: made });
  return made;
}

/**
 * The cut with the best candidate of each event standing in, to have something to look at. It is what accepting them
 * would make of it, but for decisions about originals or folders, which hold for accepted pairs alone.
 */
export function withProposals(cut: Standing, pairings: readonly Pairing[]): Standing {
  const chosen = new Map<string, Contender>();
  for (const p of pairings) if (!p.accepted && p.chosen && TAKEN['best-or-doubtful'].includes(p.state)) chosen.set(p.event.key, p.chosen);
  if (chosen.size === 0) return cut;
  return withEvents(cut, (event) => {
    const candidate = chosen.get(event.key);
    return candidate ? withProposal(event, candidate) : event;
  });
}

/**
 * Gives grades to the events they name: a grade's id is an event's key, its number, its clip name or its file name, with
 * or without extension. One grade may go to several events; one that names none gives no decision.
 */
export function gradeDecisions(list: EditList, grades: readonly NamedCdl[]): Decision[] {
  return pictureEvents(list).flatMap((event): Decision[] => {
    const names = [event.key, event.number, event.clipName, event.fileName].filter((n) => n !== '').map(withoutExtension);
    const grade = grades.find((g) => names.includes(withoutExtension(g.id)));
    return grade ? [{ kind: 'grade', scope: onEvent(event.key), cdl: grade.cdl }] : [];
  });
}
