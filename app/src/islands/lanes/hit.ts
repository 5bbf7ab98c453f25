import type { StandingEvent } from '@gemello/core/edit';
import type { Grip } from '@gemello/core/lanes';
import { firstSeen, type Scene } from './scene';
import { BETWEEN, frameAtX, laneTop, NAMES, type Sight, xOf } from './sight';

/** What lies under a point of the lanes. `grip`: what a drag from there moves; null where it moves nothing. */
export interface Hit {
  readonly lane: number;
  readonly event: StandingEvent | null;
  readonly grip: Grip | null;
}

/** Pixels on each side of an edge that belong to it. */
const EDGE = 6;
/** An event must be this wide for its handles to be told apart, in pixels. */
const WIDE = 28;

interface Where {
  readonly scene: Scene;
  readonly sight: Sight;
  readonly each: number;
  readonly scrolled: number;
  readonly selected: ReadonlySet<string>;
  readonly locked: ReadonlySet<string>;
}

/**
 * What is under a point. Only what is selected has handles: in its upper half the cut at its head is rolled and all of it is moved, in
 * its lower half its edges are trimmed and its source is slipped; the ends of its transition lie between.
 */
export function hitAt({ scene, sight, each, scrolled, selected, locked }: Where, x: number, y: number): Hit | null {
  const lane = Math.floor((y - laneTop(0, each, scrolled)) / (each + BETWEEN));
  const found = scene.lanes[lane];
  if (!found) return null;
  const top = laneTop(lane, each, scrolled);
  const upper = y - top < Math.max(NAMES, each / 2);
  const frame = frameAtX(sight, x);
  const at = firstSeen(found.events, frame);
  const here = found.events[at];
  const event = here && here.record.in <= frame ? here : null;
  if (locked.has(found.name)) return { lane, event, grip: null };
  // An edge of what is selected reaches a little into its neighbours.
  for (const near of [found.events[at - 1], here, found.events[at + 1]]) {
    if (!near || !selected.has(near.key)) continue;
    const grip = edgeAt(near, sight, x, y - top, each, upper, found.events);
    if (grip) return { lane, event: near, grip };
  }
  const wide = event !== null && (event.record.out - event.record.in) * sight.perFrame > WIDE;
  if (!event || !selected.has(event.key) || !wide) return { lane, event, grip: null };
  return { lane, event, grip: upper ? 'event' : 'source' };
}

/** The layer at a height, by its name; null where there is none, or it is held fast. */
export function laneAt({ scene, each, scrolled, locked }: Where, y: number): string | null {
  const lane = scene.lanes[Math.floor((y - laneTop(0, each, scrolled)) / (each + BETWEEN))];
  return lane && !locked.has(lane.name) ? lane.name : null;
}

function edgeAt(
  event: StandingEvent,
  sight: Sight,
  x: number,
  y: number,
  each: number,
  upper: boolean,
  events: readonly StandingEvent[],
): Grip | null {
  const [left, right] = [xOf(sight, event.record.in), xOf(sight, event.record.out)];
  if (right - left <= WIDE) return null;
  const join = event.transitionIn;
  if (join && Math.abs(y - each / 2) < EDGE) {
    const begins = left - join.before * sight.perFrame;
    if (Math.abs(x - begins) < EDGE) return 'join-in';
    if (Math.abs(x - begins - join.duration * sight.perFrame) < EDGE) return 'join-out';
  }
  if (upper && Math.abs(x - left) < EDGE) return events.some((e) => e.record.out === event.record.in) ? 'cut' : null;
  if (!upper && x >= left - 1 && x - left < EDGE + 2) return 'head';
  if (!upper && x <= right + 1 && right - x < EDGE + 2) return 'tail';
  return null;
}

/** Events that a box touches, by their keys. */
export function eventsIn(
  { scene, sight, each, scrolled }: Where,
  box: { left: number; right: number; top: number; bottom: number },
): string[] {
  const [from, to] = [frameAtX(sight, box.left), frameAtX(sight, box.right)];
  return scene.lanes.flatMap(({ events }, lane) => {
    const top = laneTop(lane, each, scrolled);
    if (box.bottom < top || box.top > top + each) return [];
    const keys: string[] = [];
    for (let i = firstSeen(events, from); i < events.length && (events[i] as StandingEvent).record.in < to; i++)
      keys.push((events[i] as StandingEvent).key);
    return keys;
  });
}
