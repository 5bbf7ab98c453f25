import { tailFrames } from '../conform/timemap';
import { type Decision, type Settled, settle, settledFor } from '../decisions';
import { type EditList, type ListEvent, pictureTracks } from '../edit';
import { looseName, looseReel, type Original, withoutExtension } from '../originals';
import type { Frames } from '../time';
import { type Contender, examine, isShort, touches } from './evidence';
import { DEFAULT_RULES, type Rules } from './rules';

/** Where an event stands on the way to its original. */
export const PAIR_STATES = ['paired', 'proposed', 'contested', 'doubtful', 'short', 'away', 'unpaired', 'exempt'] as const;
export type PairState = (typeof PAIR_STATES)[number];

/** One event's pairing. */
export interface Pairing {
  readonly event: ListEvent;
  readonly track: string;
  readonly state: PairState;
  /** True when a person, or a rule on their behalf, accepted the pair. A proposal is not a link. */
  readonly accepted: boolean;
  /** The chosen or best candidate; null when there is none, or when it is not here. */
  readonly chosen: Contender | null;
  /** Path of the accepted original, also when it is away. */
  readonly acceptedPath: string | null;
  /** All that were looked at, best first, the chosen one included. */
  readonly contenders: readonly Contender[];
}

/** How many candidates are kept for an event; more than that nobody looks through. */
const MOST_CONTENDERS = 12;

/** Originals by what may lead an event to them. */
export interface OriginalIndex {
  readonly byReel: Map<string, Original[]>;
  readonly byName: Map<string, Original[]>;
  readonly byPath: Map<string, Original>;
}

/** Makes the index that `pair` looks things up in. Sound is left out: events of the picture need none. */
export function indexOriginals(originals: readonly Original[]): OriginalIndex {
  const index: OriginalIndex = { byReel: new Map(), byName: new Map(), byPath: new Map() };
  const add = (map: Map<string, Original[]>, key: string, original: Original) => {
    if (key === '') return;
    const known = map.get(key);
    if (known) known.push(original);
    else map.set(key, [original]);
  };
  for (const original of originals) {
    if (original.kind === 'sound') continue;
    index.byPath.set(original.path, original);
    add(index.byReel, looseReel(original.reel), original);
    const clip = looseName(original.clipName);
    add(index.byName, clip, original);
    // Most clips are called like their file.
    if (withoutExtension(original.fileName) === original.clipName) continue;
    const file = looseName(original.fileName);
    if (file !== clip) add(index.byName, file, original);
  }
  return index;
}

/**
 * Finds the twin of every picture event. Accepted pairs come from the decisions; everything else is
 * a proposal. Events are in track order, bottom layer first. Cost grows with events x candidates; whoever
 * pairs again with the same originals hands over their index, which is most of the cost when they are many.
 */
export function pair(
  list: EditList,
  originals: readonly Original[] | OriginalIndex,
  decisions: readonly Decision[] = [],
  rules: Rules = DEFAULT_RULES,
): Pairing[] {
  const index = 'byPath' in originals ? originals : indexOriginals(originals);
  const settled = settle(decisions);
  return pictureTracks(list).flatMap((track) =>
    track.events.map((event, at) => pairEvent(event, track.name, tailFrames(track, at), index, settledFor(settled, event.id), rules)),
  );
}

function pairEvent(event: ListEvent, track: string, tail: Frames, index: OriginalIndex, settled: Settled, rules: Rules): Pairing {
  const base = { event, track, accepted: false, chosen: null, acceptedPath: null, contenders: [] };
  if (!event.enabled || (settled.exempt ?? event.kind !== 'clip')) return { ...base, state: 'exempt' };
  const contenders = [...candidates(event, index, rules)]
    .map((original) => examine(event, original, tail, rules))
    .filter((c) => c.meets || named(c))
    .sort((a, b) => weigh(b) - weigh(a));
  const kept = contenders.slice(0, MOST_CONTENDERS);
  if (settled.pair) return acceptedPairing(event, track, tail, index, settled, rules, kept);

  const meeting = contenders.filter((c) => c.meets);
  const best = contenders[0];
  if (!best) return { ...base, state: 'unpaired' };
  return { ...base, state: proposedState(meeting), chosen: best, contenders: kept };
}

function proposedState(meeting: readonly Contender[]): PairState {
  const [first, second] = meeting;
  if (!first) return 'doubtful';
  if (second) return 'contested';
  return isShort(first) ? 'short' : 'proposed';
}

function acceptedPairing(
  event: ListEvent,
  track: string,
  tail: Frames,
  index: OriginalIndex,
  settled: Settled,
  rules: Rules,
  contenders: readonly Contender[],
): Pairing {
  const accepted = settled.pair as NonNullable<Settled['pair']>;
  const original = index.byPath.get(accepted.original);
  const base = { event, track, accepted: true, acceptedPath: accepted.original, contenders };
  if (!original) return { ...base, state: 'away', chosen: null };
  const chosen = examine(event, original, tail, rules, accepted.sourceStartFrame + settled.slip);
  return { ...base, state: isShort(chosen) ? 'short' : 'paired', chosen };
}

/** What is called as the event, wherever it lies in time; and of its reel what can meet the rules. */
function candidates(event: ListEvent, index: OriginalIndex, rules: Rules): Iterable<Original> {
  const found = new Set<Original>();
  for (const o of index.byReel.get(looseReel(event.reel)) ?? [])
    if (rules.timecode === 'off' || o.kind === 'still' || touches(event, o, rules)) found.add(o);
  for (const name of new Set([event.clipName, event.fileName, event.reel]))
    if (name.trim() !== '') for (const o of index.byName.get(looseName(name)) ?? []) found.add(o);
  return found;
}

const named = (c: Contender) => c.evidence.some((e) => e.criterion === 'name' && (e.result === 'agrees' || e.result === 'loosely'));

/** Best first: meeting the rules, then each criterion, then frames, then the larger raster. */
function weigh(c: Contender): number {
  const points = { agrees: 3, loosely: 2, unknown: 1, disagrees: 0 };
  const evidence = c.evidence.reduce((sum, e) => sum + points[e.result], 0);
  return (c.meets ? 1e6 : 0) + evidence * 1e4 + Math.min(9999, (c.original.raster.width * c.original.raster.height) / 1e4);
}

/** The decisions that accept every proposal with exactly one candidate that meets the rules and has all frames. */
export function acceptUnambiguous(pairings: readonly Pairing[]): Decision[] {
  return pairings.flatMap((p) => (p.state === 'proposed' && p.chosen ? [acceptDecision(p.event.id, p.chosen)] : []));
}

/**
 * The decisions that take the best candidate of every event, for work nobody sits in front of. Of
 * contested ones that is the first (the larger raster where all else is equal). `doubtful` ones,
 * which meet only some of the rules, are taken where asked.
 */
export function acceptBest(pairings: readonly Pairing[], doubtful: 'with-doubtful' | 'without-doubtful'): Decision[] {
  const open: readonly PairState[] = ['proposed', 'contested', 'short', ...(doubtful === 'with-doubtful' ? (['doubtful'] as const) : [])];
  return pairings.flatMap((p) => (!p.accepted && p.chosen && open.includes(p.state) ? [acceptDecision(p.event.id, p.chosen)] : []));
}

/** The decision that accepts one candidate for an event. */
export function acceptDecision(event: string, chosen: Contender): Decision {
  return { kind: 'pair', event, original: chosen.original.path, sourceStartFrame: chosen.sourceStartFrame };
}

/** How many events stand in each state. */
export function countStates(pairings: readonly { state: PairState }[]): Record<PairState, number> {
  const counts = Object.fromEntries(PAIR_STATES.map((s) => [s, 0])) as Record<PairState, number>;
  for (const p of pairings) counts[p.state]++;
  return counts;
}
