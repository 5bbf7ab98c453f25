import { tailFrames } from '../conform';
import { isExempt, type Paired, type Standing, type StandingEvent, standingLayers } from '../edit';
import { looseName, looseReel, type Original, withoutExtension } from '../originals';
import { type Asking, type Contender, examine, isShort, touches } from './evidence';
import { DEFAULT_RULES, type Preference, type Rules, USUAL_PREFERENCE } from './rules';

/** Where an event stands on the way to its original. */
export const PAIR_STATES = ['paired', 'proposed', 'contested', 'doubtful', 'short', 'away', 'unpaired', 'exempt'] as const;
export type PairState = (typeof PAIR_STATES)[number];

/** One event's pairing. */
export interface Pairing {
  readonly event: StandingEvent;
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

/** How pairs are looked for: which criteria must hold, and what comes first among equals. */
export interface PairingWish {
  readonly rules?: Rules | null;
  readonly preference?: Preference | null;
}

interface Search {
  readonly index: OriginalIndex;
  readonly rules: Rules;
  readonly preference: Preference;
}

/**
 * Finds the twin of every picture event of a cut as it stands. Accepted pairs are part of it; everything else is
 * a proposal. Events are in track order, bottom layer first. Cost grows with events x candidates; whoever
 * pairs again with the same originals hands over their index, which is most of the cost when they are many.
 */
export function pair(cut: Standing, originals: readonly Original[] | OriginalIndex, wish: PairingWish = {}): Pairing[] {
  const index = 'byPath' in originals ? originals : indexOriginals(originals);
  const search = { index, rules: wish.rules ?? DEFAULT_RULES, preference: wish.preference ?? USUAL_PREFERENCE };
  return standingLayers(cut).flatMap((track) =>
    track.events.map((event, at) => pairEvent({ event, tail: tailFrames(track, at), recordRate: cut.rate }, track.name, search)),
  );
}

function pairEvent(asking: Asking, track: string, search: Search): Pairing {
  const { event } = asking;
  const base = { event, track, accepted: false, chosen: null, acceptedPath: null, contenders: [] };
  if (isExempt(event)) return { ...base, state: 'exempt' };
  const contenders = [...candidates(event, search)]
    .map((original) => examine(asking, original, search.rules))
    .filter((c) => c.meets || named(c))
    .map((contender) => ({ contender, weight: weigh(contender, search.preference) }))
    .sort((a, b) => b.weight - a.weight)
    .map((c) => c.contender);
  const kept = contenders.slice(0, MOST_CONTENDERS);
  if (event.pair) return acceptedPairing(asking, track, event.pair, search, kept);

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

function acceptedPairing(asking: Asking, track: string, accepted: Paired, search: Search, contenders: readonly Contender[]): Pairing {
  const original = search.index.byPath.get(accepted.original);
  const base = { event: asking.event, track, accepted: true, acceptedPath: accepted.original, contenders };
  if (!original) return { ...base, state: 'away', chosen: null };
  const chosen = examine(asking, original, search.rules, accepted.sourceStartFrame);
  return { ...base, state: isShort(chosen) ? 'short' : 'paired', chosen };
}

/** What is called as the event, wherever it lies in time; and of its reel what can meet the rules. */
function candidates(event: StandingEvent, { index, rules }: Search): Iterable<Original> {
  const found = new Set<Original>();
  for (const o of index.byReel.get(looseReel(event.reel)) ?? [])
    if (rules.timecode === 'off' || o.kind === 'still' || touches(event, o, rules)) found.add(o);
  for (const name of new Set([event.clipName, event.fileName, event.reel, ...event.aliases]))
    if (name.trim() !== '') for (const o of index.byName.get(looseName(name)) ?? []) found.add(o);
  return found;
}

const named = (c: Contender) => c.evidence.some((e) => e.criterion === 'name' && (e.result === 'agrees' || e.result === 'loosely'));

/** Best first: meeting the rules, then each criterion, then frames, then what is preferred. */
function weigh(c: Contender, { raster, folders }: Preference): number {
  const points = { agrees: 3, loosely: 2, unknown: 1, disagrees: 0 };
  const evidence = c.evidence.reduce((sum, e) => sum + points[e.result], 0);
  const size = Math.min(9998, (c.original.raster.width * c.original.raster.height) / 1e4);
  const wanted = folders.some((f) => c.original.path.startsWith(`${f}/`)) ? 1e4 / 2 : 0;
  return (c.meets ? 1e7 : 0) + evidence * 2e4 + wanted * 2 + (raster === 'largest' ? size : 9998 - size);
}

/** How many events stand in each state. */
export function countStates(pairings: readonly { state: PairState }[]): Record<PairState, number> {
  const counts = Object.fromEntries(PAIR_STATES.map((s) => [s, 0])) as Record<PairState, number>;
  for (const p of pairings) counts[p.state]++;
  return counts;
}
