import type { EditList } from '../edit';
import type { Frames } from '../time';
import { atRecordIn, onWholeFrame, trimmed } from './timemap';

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
        const touches = next !== undefined && next.record.in === event.record.out;
        const early: Frames = touches ? (next.transitionIn?.before ?? 0) : 0;
        const before = event.transitionIn?.before ?? 0;
        const moved = trimmed(event, { in: event.record.in - before, out: event.record.out - early });
        return moved.transitionIn && before !== 0 ? { ...moved, transitionIn: { ...moved.transitionIn, before: 0 } } : moved;
      }),
    })),
  };
}

/** The cut with every source in and out as they are at record in and out: what writers of lists begin with. */
export const asLists = (list: EditList): EditList => ({
  ...list,
  tracks: list.tracks.map((t) => ({ ...t, events: t.events.map((e) => atRecordIn(e, list.rate)) })),
});

/** The cut with every source on whole frames, for lists that can say no other. */
export const onWholeFrames = (list: EditList): EditList => ({
  ...list,
  tracks: list.tracks.map((t) => ({ ...t, events: t.events.map(onWholeFrame) })),
});
