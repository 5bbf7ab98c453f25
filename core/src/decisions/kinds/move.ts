import { z } from 'zod';
import type { Frames } from '../../time';
import { find, put } from '../draft';
import { framesText, kind } from '../kind';
import { nearestFrames, type RefusalCode, refuse } from '../refusal';
import { eventKey, onEvent, shiftOfFrames } from '../scope';

/** Moves a whole event along the record, with its source and markers. Positive: later. */
export const move = kind({
  schema: z.object({ kind: z.literal('move'), event: eventKey, frames: shiftOfFrames }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, frames }) {
    const found = find(draft, key);
    if (!found) return refuse('no-such-event');
    const { event, track } = found;
    const others = track.events.filter((e) => e !== event);
    const at = (n: Frames) => ({ in: event.record.in + n, out: event.record.out + n });
    // On the way only its own side counts: it may jump over a neighbour into free room.
    const free = (n: Frames) => others.every((e) => at(n).in >= e.record.out || at(n).out <= e.record.in);
    if (at(frames).in < 0) return refuse('before-zero', numbered(nearestFrames(frames, (n) => (at(n).in < 0 ? 'before-zero' : null))));
    if (!free(frames)) {
      const upTo = (n: Frames): RefusalCode | null => {
        const passed = { in: Math.min(event.record.in, at(n).in), out: Math.max(event.record.out, at(n).out) };
        return others.every((e) => passed.in >= e.record.out || passed.out <= e.record.in) ? null : 'overlap';
      };
      return refuse('overlap', numbered(nearestFrames(frames, upTo)));
    }
    put(draft, key, { record: at(frames), markers: event.markers.map((m) => ({ ...m, record: m.record + frames })) });
    return null;
  },
  says: (d) => `moved by ${framesText(d.frames)}`,
});

const numbered = (frames: Frames | null) => (frames === null ? null : { frames });
