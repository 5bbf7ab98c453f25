import type { EditList, ListEvent } from './model';
import { speedOf } from './model';

/**
 * The same cut with every transition beginning at its event's record in, as formats need it whose
 * events start with their transition: the incoming event is drawn out to the front, and the outgoing
 * one ends there. What is seen at each frame stays the same.
 */
export function withTransitionsAtStart(list: EditList): EditList {
  return {
    ...list,
    tracks: list.tracks.map((track) => ({
      ...track,
      events: track.events.map((event, index) => {
        const next = track.events[index + 1];
        const early = next?.transitionIn?.before ?? 0;
        const drawn = event.transitionIn ? drawnToFront(event, event.transitionIn.before) : event;
        const touches = next !== undefined && next.record.in === event.record.out;
        if (early === 0 || !touches) return drawn;
        const out = drawn.record.out - early;
        const used = Math.round(early * Math.abs(speedOf(event.retime)));
        const source =
          drawn.retime.kind === 'constant' && drawn.retime.speed < 0
            ? { in: drawn.source.in + used, out: drawn.source.out }
            : { in: drawn.source.in, out: drawn.source.out - used };
        return { ...drawn, record: { in: drawn.record.in, out }, source };
      }),
    })),
  };
}

function drawnToFront(event: ListEvent, by: number): ListEvent {
  if (by === 0 || !event.transitionIn) return event;
  const used = Math.round(by * Math.abs(speedOf(event.retime)));
  const reverse = event.retime.kind === 'constant' && event.retime.speed < 0;
  return {
    ...event,
    transitionIn: { ...event.transitionIn, before: 0 },
    record: { in: event.record.in - by, out: event.record.out },
    source: reverse ? { in: event.source.in, out: event.source.out + used } : { in: event.source.in - used, out: event.source.out },
  };
}
