import { bisector } from 'd3-array';
import { runOf, sourceSpan, tailFrames } from '../conform';
import type { Fit, RateMode, ReferenceFit, StandingEvent, StandingTrack, Track } from '../edit';
import { looseName, looseReel } from '../originals';
import type { Preference, Rules } from '../pairing';
import { type Frames, lengthOf, overlapOf, type Rate } from '../time';
import type { Scope } from './scope';

/** A value that a decision took the place of. */
export interface Replaced {
  readonly event: string;
  readonly field: string;
  readonly before: unknown;
}

/** What holds for the whole cut. */
export interface CutSettings {
  fit: Fit;
  rateMode: RateMode;
  referenceFit: ReferenceFit | null;
  rules: Rules | null;
  preference: Preference | null;
}

/** How many frames an original has; undefined where it is not known or has any number. */
export type Room = (original: string) => Frames | undefined;

/** A cut while decisions are taken in one after the other. Only functions of this room change it. */
export interface Draft {
  readonly rate: Rate;
  readonly tracks: DraftTrack[];
  /** By key: the event as it stands, and the place of its track. */
  readonly events: Map<string, { event: StandingEvent; track: number }>;
  readonly settings: CutSettings;
  /** Rules that single events have of their own, by key. */
  readonly rulesOf: Map<string, Rules>;
  readonly room: Room;
  /** By key: which decision each field that was decided comes from, and how near its scope is. */
  readonly sources: Map<string, Record<string, { decision: number; near: number }>>;
  /** What the decision that is taken now replaces. */
  replaced: Replaced[];
  decision: number;
  near: number;
}

export interface DraftTrack {
  readonly track: Track;
  readonly events: StandingEvent[];
}

/** An event with its neighbours on the track. */
export interface Found {
  readonly event: StandingEvent;
  readonly track: DraftTrack;
  readonly index: number;
  readonly previous: StandingEvent | null;
  readonly next: StandingEvent | null;
}

export function find(draft: Draft, key: string): Found | null {
  const known = draft.events.get(key);
  if (!known) return null;
  const track = draft.tracks[known.track] as DraftTrack;
  const index = placeOf(track.events, known.event);
  return { event: known.event, track, index, previous: track.events[index - 1] ?? null, next: track.events[index + 1] ?? null };
}

const firstFrom = bisector((event: StandingEvent) => event.record.in).left;

/** The place of an event on its track; events that begin at one frame are looked through. */
function placeOf(events: readonly StandingEvent[], event: StandingEvent): number {
  let place = firstFrom(events, event.record.in);
  while (events[place] !== event && place < events.length) place++;
  return place;
}

/** Gives an event other values, unless a decision about something nearer settled a field already. */
export function put(draft: Draft, key: string, changes: Partial<StandingEvent>): void {
  const known = draft.events.get(key);
  if (!known) return;
  const before = known.event;
  let sources = draft.sources.get(key);
  if (!sources) {
    sources = {};
    draft.sources.set(key, sources);
  }
  // Most decisions are about an event itself: all of their fields are taken.
  let taken: Partial<StandingEvent> = changes;
  for (const field in changes) {
    if ((sources[field]?.near ?? -1) > draft.near) {
      const { [field as keyof StandingEvent]: _, ...others } = taken;
      taken = others;
      continue;
    }
    draft.replaced.push({ event: key, field, before: before[field as keyof StandingEvent] });
    sources[field] = { decision: draft.decision, near: draft.near };
  }
  exchange(draft, known.track, before, { ...before, ...taken });
}

function exchange(draft: Draft, at: number, before: StandingEvent, made: StandingEvent): void {
  const { events } = draft.tracks[at] as DraftTrack;
  const index = placeOf(events, before);
  draft.events.set(made.key, { event: made, track: at });
  if (before.record.in === made.record.in) {
    events[index] = made;
    return;
  }
  events.splice(index, 1);
  insert(events, made);
}

function insert(events: StandingEvent[], event: StandingEvent): void {
  const at = events.findIndex((e) => e.record.in > event.record.in);
  events.splice(at < 0 ? events.length : at, 0, event);
}

/** Puts a new event on the track that another stands on. */
export function addBeside(draft: Draft, beside: string, event: StandingEvent): void {
  const known = draft.events.get(beside);
  if (!known) return;
  insert((draft.tracks[known.track] as DraftTrack).events, event);
  draft.events.set(event.key, { event, track: known.track });
  const sources = draft.sources.get(beside);
  if (sources) draft.sources.set(event.key, { ...sources });
}

/** Takes an event off its track. */
export function remove(draft: Draft, key: string): void {
  const known = draft.events.get(key);
  if (!known) return;
  const { events } = draft.tracks[known.track] as DraftTrack;
  events.splice(placeOf(events, known.event), 1);
  draft.events.delete(key);
}

/** Puts an event on another layer. */
export function toLayer(draft: Draft, key: string, at: number): void {
  const known = draft.events.get(key);
  const track = draft.tracks[at];
  if (!known || !track) return;
  draft.replaced.push({ event: key, field: 'layer', before: (draft.tracks[known.track] as DraftTrack).track.name });
  remove(draft, key);
  insert(track.events, known.event);
  draft.events.set(key, { event: known.event, track: at });
}

/** Puts picture layers in the order of their names, from the bottom up; sound stays where it is. */
export function reorderLayers(draft: Draft, names: readonly string[]): void {
  const pictures = draft.tracks.filter((t) => t.track.kind === 'picture');
  const sorted = pictures.toSorted((a, b) => names.indexOf(a.track.name) - names.indexOf(b.track.name));
  let next = 0;
  draft.tracks.forEach(({ track }, at) => {
    if (track.kind !== 'picture') return;
    const there = sorted[next++] as DraftTrack;
    draft.tracks[at] = there;
    for (const event of there.events) draft.events.set(event.key, { event, track: at });
  });
}

/** The events a decision is about, as they stand. */
export function eventsIn(draft: Draft, scope: Scope): StandingEvent[] {
  if (scope.of === 'event') {
    const known = draft.events.get(scope.event);
    return known ? [known.event] : [];
  }
  const is = belongsTo(scope);
  return draft.tracks.filter((t) => t.track.kind === 'picture').flatMap((t) => t.events.filter(is));
}

function belongsTo(scope: Exclude<Scope, { of: 'event' }>): (event: StandingEvent) => boolean {
  switch (scope.of) {
    case 'cut':
      return () => true;
    case 'reel':
      return (e) => looseReel(e.reel) === looseReel(scope.reel);
    case 'original':
      return (e) => e.pair?.original === scope.original;
    case 'folder':
      return (e) => e.pair?.original.startsWith(`${scope.folder}/`) === true;
    case 'source':
      return (e) =>
        looseReel(e.reel) === looseReel(scope.reel) &&
        [e.clipName, e.fileName].some((n) => looseName(n) === looseName(scope.name)) &&
        2 * lengthOf(overlapOf(e.source, scope) ?? { in: 0, out: 0 }) > lengthOf(e.source);
  }
}

/** How many frames an event asks for that its original has not; 0 where that is not known. */
function missingFrames(draft: Draft, event: StandingEvent, tail: Frames): Frames {
  const { pair } = event;
  const frames = pair ? draft.room(pair.original) : undefined;
  if (!pair || frames === undefined) return 0;
  const span = sourceSpan(event, runAs(draft, event), tail);
  return Math.max(0, -(pair.sourceStartFrame + span.in)) + Math.max(0, pair.sourceStartFrame + span.out - frames);
}

/** How an event's source runs, counted in frames of its original where one is paired. */
export const runAs = (draft: Draft, event: StandingEvent) => runOf(event, draft.rate, event.pair?.rate ?? event.sourceRate);

/** True when the event, which stands or is to stand on a track, asks for more frames that are not there than what stands now. */
export const lacksMore = (draft: Draft, now: StandingEvent, then: StandingEvent, tail: Frames, tailThen: Frames = tail): boolean =>
  missingFrames(draft, then, tailThen) > missingFrames(draft, now, tail);

/** How many frames of an event its own transition takes at its head. */
export const sharedAtHead = ({ transitionIn: join }: Pick<StandingEvent, 'transitionIn'>): Frames =>
  join ? Math.max(0, join.duration - join.before) : 0;

/** How many frames of an event the next one's transition takes at its tail, because it begins ahead of the cut. */
export const sharedAtTail = (event: StandingEvent, next: StandingEvent | null): Frames =>
  next?.record.in === event.record.out ? Math.max(0, next.transitionIn?.before ?? 0) : 0;

/** True when an event is long enough for the transitions at its head and its tail. */
export const holdsTransitions = (event: StandingEvent, next: StandingEvent | null): boolean =>
  sharedAtHead(event) + sharedAtTail(event, next) <= lengthOf(event.record);

/** How long an event is still seen past its record out. */
export const tailOf = ({ track, index }: Found): Frames => tailFrames({ ...track.track, events: track.events }, index);

/** The tracks of a draft as a list has them. */
export const tracksOf = (draft: Draft): StandingTrack[] => draft.tracks.map(({ track, events }) => ({ ...track, events }));
