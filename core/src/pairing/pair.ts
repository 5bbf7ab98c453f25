import { tailFrames } from '../conform';
import { type CarryMode, type Framing, isExempt, type Standing, type StandingEvent, standingLayers } from '../edit';
import { looseReel, type Original } from '../originals';
import type { Rate } from '../time';
import { type Breadth, candidatesOf, type Leads, leadsOf } from './candidates';
import { isNamed, type PictureLook, resultOf } from './criteria';
import { type Asking, type Contender, examine, inLine, isShort, withLine } from './examine';
import { inOrder, lineMet, outcomeOf } from './judge';
import { indexOriginals, nameKeys, type OriginalIndex, originalAt, reelKeys } from './originals-index';
import { DEFAULT_RULES, type Preference, type RuleLine, type Rules, USUAL_PREFERENCE } from './rules';

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
  /** Why a candidate that meets the rules is not proposed: the timecode of its reel is under suspicion. */
  readonly doubt: 'reel-timecode' | null;
}

/** How many candidates are kept for an event; more than that nobody looks through. */
const MOST_CONTENDERS = 12;

/** How pairs are looked for: which criteria must hold, and what comes first among equals. Null: as is usual. */
export interface PairingWish {
  readonly rules?: Rules | null;
  /** Rules that single events have of their own, by key. */
  readonly rulesOf?: ReadonlyMap<string, Rules>;
  readonly preference?: Preference | null;
  /** What was seen of the pictures of originals at single events, by key. */
  readonly looksAt?: ReadonlyMap<string, readonly PictureLook[]>;
}

/** The pairings of a cut with what they were reckoned from, so that a change reckons anew only what it touches. */
export interface PairedCut {
  readonly pairings: readonly Pairing[];
  readonly index: OriginalIndex;
  readonly entries: ReadonlyMap<string, Entry>;
  readonly wish: PairingWish;
}

interface Entry {
  readonly asking: Asking;
  readonly carry: CarryMode;
  readonly breadth: Breadth;
  readonly leads: Leads;
  readonly examined: readonly Contender[];
  /** True for what is proposed by reel and timecode alone, its name saying nothing. */
  readonly byClock: boolean;
  readonly rules: Rules;
  readonly preference: Preference | null;
  readonly pairing: Pairing;
}

/** Finds the twin of every picture event of a cut as it stands; `pairCut` without a memory. */
export const pair = (cut: Standing, originals: readonly Original[] | OriginalIndex, wish: PairingWish = {}): readonly Pairing[] =>
  pairCut(cut, 'layers' in originals ? originals : indexOriginals(originals), wish).pairings;

/**
 * Finds the twin of every picture event of a cut as it stands. Accepted pairs are part of it; everything else is
 * a proposal. Events are in track order, bottom layer first. Cost grows with events x candidates. `before`, an earlier
 * pairing of the cut, spares what neither a decision nor another original has touched.
 */
export function pairCut(cut: Standing, index: OriginalIndex, wish: PairingWish = {}, before?: PairedCut): PairedCut {
  const asked = asBefore(wish, before?.wish);
  const { rules: wished, preference, rulesOf, looksAt } = asked;
  const entries = new Map<string, Entry>();
  const pairings: Pairing[] = [];
  const breadths = new Map<Rules, Breadth>();
  const touched = before ? touchedBetween(before.index, index) : null;
  const first = before?.entries.values().next().value?.asking;
  const untouched = touched?.paths.size === 0 && first && sameRate(first.recordRate, cut.rate) && sameFraming(first.framing, cut.framing);
  for (const track of standingLayers(cut))
    track.events.forEach((event, at) => {
      const tail = tailFrames(track, at);
      const rules = rulesOf?.get(event.key) ?? wished ?? DEFAULT_RULES;
      const looks = looksAt?.get(event.key) ?? NONE;
      const known = before?.entries.get(event.key);
      if (known && untouched && stands(known, event, tail, track.name, rules, preference ?? null, looks)) {
        entries.set(event.key, known);
        pairings.push(known.pairing);
        return;
      }
      const asking: Asking = { event, tail, recordRate: cut.rate, framing: cut.framing, looks };
      let breadth = breadths.get(rules);
      if (!breadth) {
        breadth = breadthOf(rules);
        breadths.set(rules, breadth);
      }
      const entry = entryOf(asking, track.name, rules, breadth, preference ?? null, index, known, touched);
      entries.set(event.key, entry);
      pairings.push(entry.pairing);
    });
  return { pairings: withoutChance(pairings, entries), index, entries, wish: asked };
}

/** True where nothing an entry rests on is another thing than it was. */
const stands = (
  known: Entry,
  event: StandingEvent,
  tail: number,
  track: string,
  rules: Rules,
  preference: Preference | null,
  looks: readonly PictureLook[],
): boolean =>
  known.asking.event === event &&
  known.asking.looks === looks &&
  known.asking.tail === tail &&
  known.pairing.track === track &&
  known.rules === rules &&
  known.preference === preference;

/** What is wished as it was before, as the same thing, so that it need not be compared event by event. */
function asBefore(wish: PairingWish, before: PairingWish | undefined): PairingWish {
  const kept = <T>(now: T, then: T | undefined): T => (then !== undefined && JSON.stringify(now) === JSON.stringify(then) ? then : now);
  const each = <T>(now: ReadonlyMap<string, T> | undefined, then: ReadonlyMap<string, T> | undefined) =>
    new Map([...(now ?? [])].map(([key, one]) => [key, kept(one, then?.get(key))]));
  return {
    rules: kept(wish.rules ?? null, before?.rules),
    preference: kept(wish.preference ?? null, before?.preference),
    rulesOf: each(wish.rulesOf, before?.rulesOf),
    looksAt: each(wish.looksAt, before?.looksAt),
  };
}

function entryOf(
  asking: Asking,
  track: string,
  rules: Rules,
  breadth: Breadth,
  preference: Preference | null,
  index: OriginalIndex,
  known: Entry | undefined,
  touched: Touched | null,
): Entry {
  const { event } = asking;
  const carry = rules.rates;
  const same = known && sameAsking(known, asking, carry, breadth) && touched !== null && !isTouched(touched, known);
  const leads = same ? known.leads : leadsOf(event);
  const examined = same
    ? known.examined
    : isExempt(event)
      ? NONE
      : [...withSeen(candidatesOf(event, leads, index, carry, breadth), asking.looks, index)].map((original) =>
          withLine(examine(asking, original, carry), null),
        );
  if (same && known.rules === rules && known.preference === preference && sameSettled(known.asking.event, event)) {
    if (known.asking.event === event && known.pairing.track === track) return known;
    return { ...known, asking, pairing: { ...known.pairing, event, track } };
  }
  const lined = examined.map((c) => inLine(c, lineMet(rules, c)));
  const pairing = judged(asking, track, lined, rules, preference, index);
  return { asking, carry, breadth, leads, examined: lined, byClock: byClockAlone(pairing), rules, preference, pairing };
}

const NONE: readonly never[] = [];

/** The candidates of an event with those of which only the picture speaks. */
function withSeen(candidates: Set<Original>, looks: readonly PictureLook[], index: OriginalIndex): Set<Original> {
  for (const { path, is } of looks) {
    const original = is === 'found' ? originalAt(index, path) : undefined;
    if (original) candidates.add(original);
  }
  return candidates;
}

/** True where the picture of a candidate is that of the reference, be it aside or altered. */
const isSeen = ({ picture }: Contender): boolean => picture.look?.is === 'found';

/** Lines that ask for no name, slate or picture, or for no reel either, look further than names lead. */
const breadthOf = ({ lines }: Rules): Breadth => {
  const speaks = (strictness: string) => strictness === 'exact' || strictness === 'loose';
  const named = (line: RuleLine) => speaks(line.name) || speaks(line.slate) || speaks(line.picture);
  return {
    reel: lines.some((l) => l.timecode === 'off' && !named(l)),
    clock: lines.some((l) => l.timecode !== 'off' && !named(l) && !speaks(l.reel)),
  };
};

function judged(
  asking: Asking,
  track: string,
  examined: readonly Contender[],
  rules: Rules,
  preference: Preference | null,
  index: OriginalIndex,
): Pairing {
  const { event } = asking;
  const base = { event, track, accepted: false, chosen: null, acceptedPath: null, contenders: [], doubt: null };
  if (isExempt(event)) return { ...base, state: 'exempt' };
  const ordered = inOrder(
    examined.filter((c) => c.line !== null || isNamed(c.name) || isNamed(c.slate) || isSeen(c)),
    preference ?? USUAL_PREFERENCE,
  );
  const contenders = ordered.length > MOST_CONTENDERS ? ordered.slice(0, MOST_CONTENDERS) : ordered;
  if (event.pair) {
    const { original: path, sourceStartFrame } = event.pair;
    const original = originalAt(index, path);
    const accepted = { ...base, accepted: true, acceptedPath: path, contenders };
    if (!original) return { ...accepted, state: 'away' };
    const looked = examine(asking, original, rules.rates, sourceStartFrame);
    const chosen = withLine(looked, lineMet(rules, looked));
    return { ...accepted, state: isShort(chosen) ? 'short' : 'paired', chosen };
  }
  const [best] = ordered;
  if (!best) return { ...base, state: 'unpaired' };
  const outcome = outcomeOf(ordered, preference ?? USUAL_PREFERENCE, preference !== null);
  const state = outcome === 'none' ? 'doubtful' : outcome === 'several' ? 'contested' : isShort(best) ? 'short' : 'proposed';
  return { event, track, state, accepted: false, chosen: best, acceptedPath: null, contenders, doubt: null };
}

/** True for what is proposed by reel and timecode alone, its name and picture saying nothing. */
const byClockAlone = ({ accepted, chosen }: Pairing): boolean =>
  !accepted &&
  chosen !== null &&
  chosen.line !== null &&
  !isNamed(chosen.name) &&
  !isNamed(chosen.slate) &&
  resultOf(chosen.picture) !== 'agrees' &&
  chosen.original.kind !== 'still';

/** So many events of a reel must find no clip at their timecode for the others to have found theirs by chance. */
const ENOUGH_LOST = 2;

/**
 * Takes back what may have been found by chance: where two of three events of a reel find no clip of it at their timecode,
 * as when its camera's clock was an hour off, those that do are no more than doubtful, unless their names agree too.
 */
function withoutChance(pairings: readonly Pairing[], entries: ReadonlyMap<string, Entry>): readonly Pairing[] {
  const reels = new Map<string, { found: number; lost: number }>();
  for (const [, { byClock: found, pairing }] of entries) {
    const { event, state } = pairing;
    if (!found && state !== 'unpaired') continue;
    const key = looseReel(event.reel);
    const counts = reels.get(key) ?? { found: 0, lost: 0 };
    counts[found ? 'found' : 'lost']++;
    reels.set(key, counts);
  }
  const suspect = ({ event }: Pairing) => {
    const counts = reels.get(looseReel(event.reel));
    return counts !== undefined && counts.lost >= ENOUGH_LOST && counts.lost >= 2 * counts.found;
  };
  if (![...reels.values()].some((c) => c.found > 0 && c.lost >= ENOUGH_LOST)) return pairings;
  return pairings.map((p) => (entries.get(p.event.key)?.byClock && suspect(p) ? { ...p, state: 'doubtful', doubt: 'reel-timecode' } : p));
}

/** What of an event its candidates rest on. */
function sameAsking(known: Entry, asking: Asking, carry: CarryMode, breadth: Breadth): boolean {
  const [a, b] = [known.asking.event, asking.event];
  return (
    (a === b || sameEvent(a, b)) &&
    known.asking.tail === asking.tail &&
    known.asking.looks === asking.looks &&
    sameRate(known.asking.recordRate, asking.recordRate) &&
    sameFraming(known.asking.framing, asking.framing) &&
    known.carry === carry &&
    known.breadth.reel === breadth.reel &&
    known.breadth.clock === breadth.clock
  );
}

/** Written out, since it is asked of every event after every decision. */
const sameEvent = (a: StandingEvent, b: StandingEvent): boolean =>
  a.reel === b.reel &&
  a.clipName === b.clipName &&
  a.fileName === b.fileName &&
  a.mediaPath === b.mediaPath &&
  a.kind === b.kind &&
  a.enabled === b.enabled &&
  a.exempt === b.exempt &&
  a.shift === b.shift &&
  a.rateMode === b.rateMode &&
  same(a.source, b.source) &&
  same(a.sourceRate, b.sourceRate) &&
  same(a.record, b.record) &&
  same(a.retime, b.retime) &&
  same(a.phase, b.phase) &&
  same(a.anchor, b.anchor) &&
  same(a.transitionIn, b.transitionIn) &&
  same(a.aliases, b.aliases) &&
  same(a.sourceReading, b.sourceReading) &&
  same(a.reelTakes, b.reelTakes);

/** Values that decisions seldom make anew: equal where they are the same thing, or say the same. */
const same = (a: unknown, b: unknown): boolean => a === b || (a !== null && b !== null && JSON.stringify(a) === JSON.stringify(b));

const sameRate = (a: Rate, b: Rate): boolean => a === b || (a.num === b.num && a.den === b.den && a.dropFrame === b.dropFrame);
const sameFraming = (a: Framing | null, b: Framing | null): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);
const sameSettled = (a: StandingEvent, b: StandingEvent): boolean =>
  a.pair === b.pair || (a.pair?.original === b.pair?.original && a.pair?.sourceStartFrame === b.pair?.sourceStartFrame);

/** What originals that came, went or changed are called, so that those events are looked at anew which they may concern. */
interface Touched {
  readonly keys: ReadonlySet<string>;
  readonly paths: ReadonlySet<string>;
}

/** What changed between two indexes; null where that is more than is worth knowing. */
function touchedBetween(before: OriginalIndex, now: OriginalIndex): Touched | null {
  if (before === now) return { keys: NOTHING, paths: NOTHING };
  if (before.layers[0] !== now.layers[0]) return null;
  const paths = new Set([...before.gone, ...now.gone]);
  const originals = [...paths].flatMap((path) => [originalAt(before, path), originalAt(now, path)].filter((o) => o !== undefined));
  const keys = new Set<string>();
  for (const original of originals) {
    for (const key of reelKeys(original)) keys.add(`reel ${key}`);
    for (const key of nameKeys(original)) keys.add(`name ${key}`);
    for (const name of [original.clipName, original.fileName, original.reel]) keys.add(`begins ${name.slice(0, 4).toLowerCase()}`);
  }
  return { keys, paths };
}

const NOTHING: ReadonlySet<string> = new Set();

function isTouched({ keys, paths }: Touched, { leads, breadth, asking, examined }: Entry): boolean {
  if (paths.size === 0) return false;
  if (breadth.clock || breadth.reel) return true;
  const accepted = asking.event.pair?.original;
  return (
    leads.reels.some((key) => keys.has(`reel ${key}`)) ||
    leads.names.some((key) => keys.has(`name ${key}`)) ||
    (leads.beginning !== null && keys.has(`begins ${leads.beginning.slice(0, 4)}`)) ||
    (accepted !== undefined && paths.has(accepted)) ||
    examined.some((c) => paths.has(c.original.path))
  );
}

/** How many events stand in each state. */
export function countStates(pairings: readonly { state: PairState }[]): Record<PairState, number> {
  const counts = Object.fromEntries(PAIR_STATES.map((s) => [s, 0])) as Record<PairState, number>;
  for (const p of pairings) counts[p.state]++;
  return counts;
}
