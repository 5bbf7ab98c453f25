import { type Decision, nearestFrames, type RefusalCode, type Room, tryDecisions } from '../decisions';
import type { Standing, StandingEvent, StandingTrack, Transition } from '../edit';
import type { Frames } from '../time';

/**
 * What of an event is moved. `source`: the source under it, later in the original for more frames (a slip); `cut`: the cut at its
 * head (a roll); `head`, `tail`: one of its edges alone (a trim); `event`: all of it along the record; `join`: how long its
 * transition is, where it stands in proportion; `join-in`, `join-out`: where its transition begins or ends.
 */
export const GRIPS = ['source', 'cut', 'head', 'tail', 'event', 'join', 'join-in', 'join-out'] as const;
export type Grip = (typeof GRIPS)[number];

/** What moving a grip comes to. */
export interface Tried {
  /** What would be decided; empty where nothing would change. */
  readonly decisions: readonly Decision[];
  /** Frames it was moved by: as far as wished, or the nearest to it that can be. */
  readonly by: Frames;
  /** Why no further; null where it went as far as was wished. */
  readonly refused: RefusalCode | null;
  /** The layer it was put on, where it was and can be. */
  readonly layer: string | null;
  /** The events that change, as they would stand, by key. */
  readonly changed: ReadonlyMap<string, StandingEvent>;
}

const NOTHING: Tried = { decisions: [], by: 0, refused: null, layer: null, changed: new Map() };

/**
 * Moves a grip of one event, or the source or the place of several at once, by a number of frames; where that cannot be, by as many
 * as can. Whole events may be put on another `layer` by the way: there, or as near to it as they find room. Nothing is decided
 * by it. `keys` that the cut has not are passed over.
 */
export function tryGrip(cut: Standing, grip: Grip, keys: readonly string[], by: Frames, room: Room, layer: string | null = null): Tried {
  const few = around(cut, grip, new Set(keys));
  const on = few.tracks.flatMap((t) => t.events.flatMap((e) => (keys.includes(e.key) ? [{ event: e, track: t.name }] : [])));
  const onto = grip === 'event' && layer !== null && on.some(({ track }) => track !== layer) ? layer : null;
  if (on.length === 0 || (by === 0 && onto === null)) return NOTHING;
  // What goes later makes way for what follows it.
  if (by > 0) on.reverse();
  const lifts = on.flatMap(({ event, track }): Decision[] =>
    onto === null || track === onto ? [] : [{ kind: 'layer', event: event.key, layer: onto }],
  );
  const wish = (n: Frames) => (n === 0 ? [] : on.flatMap(({ event }) => wished(grip, event, n) ?? []));
  const after = (decisions: readonly Decision[]) => ({ decisions, ...tryDecisions(few, decisions, room) });
  const at = (n: Frames) => {
    const lifted = after([...lifts, ...wish(n)]);
    // The way there may be free on the one layer and not on the other.
    return lifted.refused.length === 0 || lifts.length === 0 ? lifted : after([...wish(n), ...lifts]);
  };
  if (by !== 0 && wish(by).length < on.length) return { ...NOTHING, refused: 'not-paired' };
  let tried = at(by);
  let far = by;
  const refusal = tried.refused[0];
  if (refusal) {
    far = nearestFrames(by, (n) => at(n).refused[0]?.code ?? null) ?? 0;
    tried = at(far);
  }
  if (far === 0 && (onto === null || tried.refused.length > 0)) return { ...NOTHING, refused: refusal?.code ?? null };
  // The first of what was taken stands beside what was left out, which it may seem to have lost.
  const before = new Map(few.tracks.flatMap((t) => t.events.map((e) => [e.key, e] as const)));
  const edges = new Set(few.tracks.flatMap((t) => t.events.slice(0, t.cutOff ? 1 : 0).map((e) => e.key)));
  const changed = new Map(
    tried.list.tracks.flatMap((t) =>
      t.events.flatMap((e) =>
        (before.get(e.key) === e && !(onto !== null && keys.includes(e.key))) || edges.has(e.key) ? [] : [[e.key, e] as const],
      ),
    ),
  );
  return { decisions: tried.decisions, by: far, refused: refusal?.code ?? null, layer: onto, changed };
}

/** The decision that moves a grip of an event by a number of frames; null where there is nothing to move. */
function wished(grip: Grip, event: StandingEvent, by: Frames): Decision | null {
  const { key, pair, transitionIn: join } = event;
  switch (grip) {
    case 'source':
      return pair && { kind: 'slip', event: key, original: pair.original, sourceStartFrame: pair.sourceStartFrame + by };
    case 'cut':
      return { kind: 'roll', event: key, frames: by };
    case 'head':
      return { kind: 'trim', event: key, edge: 'in', frames: by };
    case 'tail':
      return { kind: 'trim', event: key, edge: 'out', frames: by };
    case 'event':
      return { kind: 'move', event: key, frames: by };
    default:
      return { kind: 'transition', event: key, transition: joined(grip, join, by) };
  }
}

/** A transition with one end of it moved; none where nothing of it is left. A dissolve over the cut where there was none. */
function joined(grip: 'join' | 'join-in' | 'join-out', join: Transition | null, by: Frames): Transition | null {
  const now = join ?? { type: 'dissolve', duration: 0, before: 0, from: 'previous', wipeCode: null };
  const duration = now.duration + (grip === 'join-in' ? -by : by);
  if (duration < 1) return null;
  const ahead = now.duration === 0 ? 0.5 : now.before / now.duration;
  const before = grip === 'join' ? Math.round(duration * ahead) : grip === 'join-in' ? now.before - by : now.before;
  return { ...now, duration, before };
}

/** As much of a cut as tells whether a grip can be moved: the tracks it is on, and of those no more than stands beside it. */
function around(cut: Standing, grip: Grip, keys: ReadonlySet<string>) {
  const tracks = cut.tracks.flatMap((track): (StandingTrack & { cutOff: boolean })[] => {
    // An event may be moved over others, into free room, and to another layer.
    if (grip === 'event') return [{ ...track, cutOff: false }];
    const at = track.events.flatMap((e, i) => (keys.has(e.key) ? [i] : []));
    const [first, last] = [at[0], at.at(-1)];
    if (first === undefined || last === undefined) return [];
    return [{ ...track, events: track.events.slice(Math.max(0, first - 2), last + 3), cutOff: first > 2 }];
  });
  return { ...cut, tracks };
}

/** The two record frames that show what moving a grip does: of a cut the last picture before it and the first after it. */
export function seenAt(grip: Grip, event: Pick<StandingEvent, 'record' | 'transitionIn'>): readonly [Frames, Frames] {
  const { record, transitionIn: join } = event;
  switch (grip) {
    case 'source':
    case 'event':
      return [record.in, record.out - 1];
    case 'tail':
      return [record.out - 1, record.out];
    case 'cut':
    case 'head':
      return [record.in - 1, record.in];
    default: {
      const from = record.in - (join?.before ?? 0);
      return [from, from + Math.max(1, join?.duration ?? 1) - 1];
    }
  }
}
