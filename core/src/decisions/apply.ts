import { asDelivered, type EditList, type Standing, type StandingEvent, type StandingTrack, type Track } from '../edit';
import type { Preference, Rules } from '../pairing';
import type { Rate } from '../time';
import { type Decision, kindOf, scopeOf } from './decision';
import { type CutSettings, type Draft, type DraftTrack, type Replaced, type Room, tracksOf } from './draft';
import type { Refusal } from './refusal';
import { nearness, type Scope } from './scope';

/** A decision that was not taken in, by its place among those given. */
export interface Refused extends Refusal {
  readonly decision: number;
}

/** A delivered list with everything that was decided. Decisions are named by their place among those given, from 0. */
export interface Applied {
  readonly list: Standing;
  /** Null: the usual ones. */
  readonly rules: Rules | null;
  /** Rules that single events have of their own, by key. */
  readonly rulesOf: ReadonlyMap<string, Rules>;
  readonly preference: Preference | null;
  /** By the key of an event: which decision each of its fields comes from, where it is not as delivered. */
  readonly provenance: ReadonlyMap<string, Readonly<Record<string, number>>>;
  /** What could not be taken in, and why. It stays in the log. */
  readonly refused: readonly Refused[];
  /** Decisions about an event that this list has not. */
  readonly waiting: readonly number[];
  /** For each decision, what it took the place of. */
  readonly replaced: readonly (readonly Replaced[])[];
}

/**
 * Takes decisions into a list, in their order; one about something nearer counts before one about something wider,
 * whichever came first. Pure: the same input gives the same cut. `room` says how many frames an original has; with it,
 * decisions that ask for more are refused. Without it they are taken, as what was once decided is.
 */
export function applyDecisions(list: EditList, decisions: readonly Decision[], room: Room = () => undefined): Applied {
  const draft = draftOf(list.tracks.map(asDraft), list.rate, UNDECIDED, room);
  const { refused, waiting, replaced } = take(draft, decisions);
  const { rules, preference, ...settings } = draft.settings;
  return {
    list: { ...list, ...settings, tracks: standingOf(draft) },
    rules,
    rulesOf: draft.rulesOf,
    preference,
    provenance: new Map([...draft.sources].map(([key, fields]) => [key, decisionsOf(fields)])),
    refused,
    waiting,
    replaced,
  };
}

/**
 * What a cut that stands becomes where something more is decided: to see it before it is. Nothing is kept of it. What `applyDecisions`
 * would give once they are made, but for decisions about originals and folders, which then come after all others.
 */
export function tryDecisions(
  cut: Standing,
  decisions: readonly Decision[],
  room: Room,
): { readonly list: Standing; readonly refused: readonly Refused[] } {
  const { fit, rateMode, referenceFit } = cut;
  const settings = { ...UNDECIDED, fit, rateMode, referenceFit };
  const draft = draftOf(
    cut.tracks.map((track) => ({ track, events: [...track.events] })),
    cut.rate,
    settings,
    room,
  );
  const { refused } = take(draft, decisions);
  const { rules: _, preference: __, ...then } = draft.settings;
  return { list: { ...cut, ...then, tracks: standingOf(draft) }, refused };
}

function take(draft: Draft, decisions: readonly Decision[]): Pick<Applied, 'refused' | 'waiting' | 'replaced'> {
  const refused: Refused[] = [];
  const waiting: number[] = [];
  const replaced: Replaced[][] = decisions.map(() => []);
  const scopes = decisions.map(scopeOf);
  for (const at of inOrder(scopes)) {
    const decision = decisions[at] as Decision;
    const scope = scopes[at] as Scope;
    if (scope.of === 'event' && !draft.events.has(scope.event)) {
      waiting.push(at);
      continue;
    }
    draft.decision = at;
    draft.near = nearness(scope);
    draft.replaced = replaced[at] as Replaced[];
    const refusal = kindOf(decision).apply?.(draft, decision);
    if (refusal?.code === 'no-such-event') waiting.push(at);
    else if (refusal) refused.push({ ...refusal, decision: at });
  }
  return { refused, waiting: waiting.sort((a, b) => a - b), replaced };
}

/** The cut as it is delivered, nothing decided. */
export const standingList = (list: EditList): Standing => applyDecisions(list, []).list;

/** What is about originals or folders speaks of pairs, and so comes after those are made. */
function inOrder(scopes: readonly Scope[]): number[] {
  const [first, last]: [number[], number[]] = [[], []];
  scopes.forEach(({ of }, i) => {
    (of === 'original' || of === 'folder' ? last : first).push(i);
  });
  return last.length === 0 ? first : [...first, ...last];
}

const UNDECIDED: Readonly<CutSettings> = {
  fit: 'inside',
  rateMode: 'usual',
  referenceFit: null,
  rules: null,
  preference: null,
};

/** A delivered track as it is worked on, in record order. */
function asDraft(track: Track): DraftTrack {
  const events = track.events.map(asDelivered);
  if (events.some((e, i) => i > 0 && e.record.in < (events[i - 1] as StandingEvent).record.in))
    events.sort((a, b) => a.record.in - b.record.in);
  return { track, events };
}

function draftOf(tracks: DraftTrack[], rate: Rate, settings: Readonly<CutSettings>, room: Room): Draft {
  const events: Draft['events'] = new Map();
  tracks.forEach((track, at) => {
    for (const event of track.events) events.set(event.key, { event, track: at });
  });
  return {
    rate,
    tracks,
    events,
    settings: { ...settings },
    rulesOf: new Map(),
    room,
    sources: new Map(),
    replaced: [],
    decision: 0,
    near: 0,
  };
}

const standingOf = (draft: Draft): StandingTrack[] => tracksOf(draft).map((t) => ({ ...t, events: touching(t.events) }));

const decisionsOf = (fields: Record<string, { decision: number }>): Record<string, number> =>
  Object.fromEntries(Object.entries(fields).map(([field, { decision }]) => [field, decision]));

/** A transition out of what no longer stands before it comes out of black. */
function touching(events: readonly StandingEvent[]): StandingEvent[] {
  return events.map((event, i) => {
    const join = event.transitionIn;
    return join?.from === 'previous' && events[i - 1]?.record.out !== event.record.in
      ? { ...event, transitionIn: { ...join, from: 'black' as const } }
      : event;
  });
}
