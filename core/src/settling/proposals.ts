import { type Applied, applyDecisions, type Decision, type Scope } from '../decisions';
import type { EditList } from '../edit';
import type { Original } from '../originals';
import { DEFAULT_RULES, type PairedCut, type PairingWish, type PairState, type PictureLook, pairCut } from '../pairing';
import { type FoundAgain, findAgain } from './found-again';
import { learnPatterns, type Pattern } from './patterns';
import { inferReadings, type Reading, type ReadingProposal, sourceReadingOf } from './readings';

/** One cause for many events, with what settles it: as data; `proposalText` says it in words. */
export interface Proposal {
  /** The same for the same cause, as long as the same events are open. */
  readonly id: string;
  readonly cause:
    | { readonly kind: 'reading'; readonly reading: Reading; readonly reel: string | null; readonly clips: number }
    | { readonly kind: 'pattern'; readonly pattern: Pattern }
    | { readonly kind: 'found-again'; readonly files: readonly Omit<FoundAgain, 'events'>[] };
  /** Keys of the events that would be settled, or would have candidates to choose between. */
  readonly events: readonly string[];
  /** Keys of events that speak against it. */
  readonly exceptions: readonly string[];
  /** True where it leaves no exception and nothing else explains as many: work that nobody sits in front of takes it. */
  readonly certain: boolean;
  /** Empty where no number of frames is certain: then pictures must tell. */
  readonly decisions: readonly Decision[];
  /** What a shift of its events would be about, where a person says another one; empty where no shift can settle it. */
  readonly scopes: readonly Scope[];
}

/** A cut with all that decides how it is paired. */
export interface Settling {
  readonly list: EditList;
  readonly decisions: readonly Decision[];
  readonly applied: Applied;
  readonly paired: PairedCut;
  /** What counts before the rules and the preference that were decided. */
  readonly wish: PairingWish;
  /** What is known of originals that cannot be read now. */
  readonly known?: (path: string) => Original | undefined;
}

/** So many events one cause must settle: what concerns one alone is settled with that event. */
const WORTH_IT = 2;

/** What would settle many open events at once, that which settles most first: patterns of names and reels, and readings of timecode. */
export function proposals(settling: Settling): Proposal[] {
  const { paired } = settling;
  const carry = (paired.wish.rules ?? DEFAULT_RULES).rates;
  const readings = inferReadings(paired, carry)
    .filter((r) => r.events.length >= WORTH_IT)
    .map((r) => ofReading(r, paired));
  const patterns = learnPatterns(paired, carry).flatMap((seen) => ofPattern(seen.pattern, settling));
  const refused = new Set(settling.decisions.flatMap((d) => (d.kind === 'refuse-cause' ? [d.cause] : [])));
  return [...foundAgain(settling), ...readings, ...withoutDouble(patterns)]
    .filter((p) => !refused.has(p.id))
    .sort((a, b) => b.events.length - a.events.length);
}

/** Missing originals that lie elsewhere now are one cause: each pair is made anew with the file where it is. */
function foundAgain({ paired, known }: Settling): Proposal[] {
  const found = known ? findAgain(paired, known) : [];
  if (found.length === 0) return [];
  const elsewhere = new Map(found.flatMap(({ events, to }) => events.map((key) => [key, to] as const)));
  const decisions = paired.pairings.flatMap(({ event }): Decision[] => {
    const to = elsewhere.get(event.key);
    if (!to || !event.pair) return [];
    const { sourceStartFrame, rate } = event.pair;
    return [{ kind: 'pair', event: event.key, original: to, sourceStartFrame, rate }];
  });
  const files = found.map(({ events: _, ...file }) => file);
  return [
    {
      id: JSON.stringify(files),
      cause: { kind: 'found-again', files },
      events: [...elsewhere.keys()],
      exceptions: [],
      certain: true,
      decisions,
      scopes: [],
    },
  ];
}

function ofReading({ reading, reel, events, exceptions, clips, certain }: ReadingProposal, { pairings }: PairedCut): Proposal {
  const keys = new Set(events);
  // A reel is read anew as a whole where none of its events agrees as it is.
  const others = pairings.filter((p) => p.event.reel === reel && !keys.has(p.event.key));
  const wholeReel = reel !== null && others.every((p) => NOT_LED.includes(p.state));
  const scopes = wholeReel ? [{ of: 'reel', reel } as const] : events.map((event) => ({ of: 'event', event }) as const);
  const decisions = scopes.flatMap((scope): Decision[] => {
    if (reading.kind === 'between') return [];
    if (reading.kind === 'shift') return [{ kind: 'shift', scope, frames: reading.frames }];
    return [{ kind: 'source-reading', scope, reading: sourceReadingOf(reading) }];
  });
  return {
    id: JSON.stringify([reading, reel ?? events]),
    cause: { kind: 'reading', reading, reel, clips },
    events,
    exceptions,
    certain,
    decisions,
    scopes,
  };
}

const STILL_OPEN: readonly PairState[] = ['unpaired', 'doubtful'];
/** States in which timecode led an event to nothing. */
const NOT_LED: readonly PairState[] = [...STILL_OPEN, 'exempt'];

/** A pattern is tried: what it would settle, and which pairs that stand it would lead elsewhere, is read from the cut with it. */
function ofPattern(pattern: Pattern, settling: Settling): Proposal[] {
  const { paired } = settling;
  const decision: Decision =
    pattern.kind === 'reel'
      ? { kind: 'reel-pattern', scope: { of: 'cut' }, takes: pattern.takes }
      : { kind: 'name-pattern', find: pattern.find, becomes: pattern.becomes };
  const tried = withDecisions(settling, [decision]).paired;
  const events: string[] = [];
  const exceptions: string[] = [];
  let certain = true;
  const now = new Map(tried.pairings.map((p) => [p.event.key, p]));
  paired.pairings.forEach((before) => {
    const after = now.get(before.event.key);
    if (!after) return;
    if (STILL_OPEN.includes(before.state) && !STILL_OPEN.includes(after.state)) {
      events.push(before.event.key);
      if (after.state === 'contested') certain = false;
      return;
    }
    const was = before.acceptedPath ?? (before.state === 'proposed' ? before.chosen?.original.path : undefined);
    if (was === undefined) return;
    const rival = after.contenders.find((c) => c.line !== null && c.original.path !== was);
    const wasRivalled = before.contenders.some((c) => c.line !== null && c.original.path !== was);
    if (rival && !wasRivalled) exceptions.push(before.event.key);
  });
  if (events.length < WORTH_IT) return [];
  const id = JSON.stringify(pattern);
  return [
    {
      id,
      cause: { kind: 'pattern', pattern },
      events,
      exceptions,
      certain: certain && exceptions.length === 0,
      decisions: [decision],
      scopes: [],
    },
  ];
}

/** Of patterns that settle the same events the one with the fewest exceptions stands; the first where they are equal. */
function withoutDouble(patterns: readonly Proposal[]): Proposal[] {
  const best = new Map<string, Proposal>();
  for (const proposal of patterns) {
    const key = [...proposal.events].sort().join(' ');
    const known = best.get(key);
    if (!known || proposal.exceptions.length < known.exceptions.length) best.set(key, proposal);
  }
  return [...best.values()];
}

/** What may be taken without asking, one after the other, until nothing certain is left; with what the cut then is. */
export function inferAll(settling: Settling): { readonly taken: readonly Proposal[]; readonly settled: Settling } {
  let now = settling;
  const taken: Proposal[] = [];
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const next = apart(proposals(now).filter((p) => p.certain && p.decisions.length > 0));
    if (next.length === 0) break;
    taken.push(...next);
    now = withDecisions(
      now,
      next.flatMap((p) => p.decisions),
    );
  }
  return { taken, settled: now };
}

/** Of proposals that speak of the same events only the first; the others are looked at again once that is taken. */
function apart(certain: readonly Proposal[]): Proposal[] {
  const spoken = new Set<string>();
  return certain.filter(({ events }) => {
    if (events.some((key) => spoken.has(key))) return false;
    for (const key of events) spoken.add(key);
    return true;
  });
}

/** What one round settles may show a cause behind it; no cut has more in a row than this. */
const MOST_ROUNDS = 8;

/** The cut with some more decisions, paired again. */
export function withDecisions(settling: Settling, more: readonly Decision[]): Settling {
  const decisions = [...settling.decisions, ...more];
  return pairedAgain({ ...settling, decisions, applied: applyDecisions(settling.list, decisions) });
}

/** The cut once pictures were compared, by the key of their event; paired again. */
export const withLooks = (settling: Settling, looksAt: ReadonlyMap<string, readonly PictureLook[]>): Settling =>
  pairedAgain({ ...settling, wish: { ...settling.wish, looksAt } });

const pairedAgain = (settling: Settling): Settling => ({
  ...settling,
  paired: pairCut(settling.applied.list, settling.paired.index, wishOf(settling.applied, settling.wish), settling.paired),
});

/** A cut as it is delivered, laid against originals, with what was decided; `wish` counts before that. */
export function settlingOf(list: EditList, decisions: readonly Decision[], index: PairedCut['index'], wish: PairingWish = {}): Settling {
  const applied = applyDecisions(list, decisions);
  return { list, decisions, applied, paired: pairCut(applied.list, index, wishOf(applied, wish)), wish };
}

/** How a cut is paired: as is asked, else as was decided. */
const wishOf = (applied: Applied, asked: PairingWish): PairingWish => ({
  rules: asked.rules ?? applied.rules,
  rulesOf: applied.rulesOf,
  preference: asked.preference ?? applied.preference,
  ...(asked.looksAt ? { looksAt: asked.looksAt } : {}),
});
