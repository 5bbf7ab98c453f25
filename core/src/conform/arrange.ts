import type { EditList, ListEvent, Track } from '../edit';
import type { Frames, Rate } from '../time';
import { atRecordIn, frameAt, headFrames, onWholeFrame, runOf, trimmed } from './timemap';

/**
 * The same cut with every transition beginning at its event's record in, as formats need it whose
 * events start with their transition: the incoming event is drawn out to the front, and the outgoing
 * one ends there. What is seen at each frame stays the same, except where a source would have to begin before its frame 0,
 * which no label can name: there the transition begins later, by as much.
 */
export function withTransitionsAtStart(list: EditList): EditList {
  return {
    ...list,
    tracks: list.tracks.map((track) => {
      const early = track.events.map((event) => labelledHead(event, list.rate));
      return {
        ...track,
        events: track.events.map((event, index) => {
          const next = track.events[index + 1];
          const touches = next !== undefined && next.record.in === event.record.out;
          const moved = trimmed(event, {
            in: event.record.in - (early[index] ?? 0),
            out: event.record.out - (touches ? (early[index + 1] ?? 0) : 0),
          });
          const join = moved.transitionIn;
          if (!join || join.before === 0) return moved;
          return { ...moved, transitionIn: { ...join, before: 0, duration: join.duration - (join.before - (early[index] ?? 0)) } };
        }),
      };
    }),
  };
}

/** How many frames ahead of its record in an event's transition can begin so that all its source frames have labels. */
function labelledHead(event: ListEvent, rate: Rate): Frames {
  const wanted = headFrames(event);
  if (wanted === 0 || event.kind !== 'clip') return wanted;
  const run = runOf(event, rate);
  let head = wanted;
  while (head > 0 && event.source.in + frameAt(run, -head) < 0) head--;
  return head;
}

/**
 * The cut with every source in and out as they are at record in and out: what writers of lists begin with. The source of
 * what has no media, such as black, counts from 0 where it would begin below.
 */
export const asLists = (list: EditList): EditList => ({
  ...list,
  tracks: list.tracks.map((t) => ({
    ...t,
    events: t.events.map((e) => {
      const event = atRecordIn(e, list.rate);
      return event.kind === 'clip' || event.source.in >= 0
        ? event
        : { ...event, source: { in: 0, out: event.source.out - event.source.in } };
    }),
  })),
});

/** The cut with every source on whole frames, for lists that can say no other. */
export const onWholeFrames = (list: EditList): EditList => ({
  ...list,
  tracks: list.tracks.map((t) => ({ ...t, events: t.events.map(onWholeFrame) })),
});

/**
 * The cut with every event that overlaps another of its track on a layer above it, for lists whose items follow one
 * another. What is seen at each frame stays the same; a list without overlaps comes back as it is.
 */
export function withoutOverlaps(list: EditList): EditList {
  if (!list.tracks.some(overlaps)) return list;
  const counts = { picture: 0, sound: 0 };
  const tracks = list.tracks.flatMap((track): Track[] => {
    const lanes = lanesOf(track.events);
    return lanes.map((events, i) => {
      const name = track.kind === 'picture' ? `V${++counts.picture}` : `A${++counts.sound}`;
      return i === 0 ? { ...track, name, events } : { name, kind: track.kind, events };
    });
  });
  return { ...list, tracks };
}

const overlaps = ({ events }: Track): boolean => events.some((e, i) => i > 0 && e.record.in < (events[i - 1] as ListEvent).record.out);

/** Events laid so that each lies above all it overlaps that began before it. */
function lanesOf(events: readonly ListEvent[]): ListEvent[][] {
  const lanes: ListEvent[][] = [];
  for (const event of events) {
    let lane = 0;
    for (let i = lanes.length - 1; i >= 0 && lane === 0; i--) if (endOf(lanes[i] as ListEvent[]) > event.record.in) lane = i + 1;
    const into = lanes[lane] ?? [];
    lanes[lane] = into;
    into.push(event);
  }
  return lanes.length === 0 ? [[]] : lanes;
}

const endOf = (lane: readonly ListEvent[]): Frames => lane.at(-1)?.record.out ?? Number.NEGATIVE_INFINITY;
