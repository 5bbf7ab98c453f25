import type { FrameRange, Frames } from '../time';
import { type EditList, type ListEvent, speedOf } from './model';

/**
 * The same event over another part of the record, longer or shorter at either end: what is seen at
 * each record frame stays the same. A transition at its head stays at its record frame only when
 * the head does not move.
 */
export function withRecord(event: ListEvent, record: FrameRange): ListEvent {
  const head = record.in - event.record.in;
  const tail = event.record.out - record.out;
  if (head === 0 && tail === 0) return event;
  const { retime, source } = event;
  if (retime.kind === 'freeze') return { ...event, record };
  if (retime.kind === 'keyed')
    return {
      ...event,
      record,
      retime: { kind: 'keyed', keys: retime.keys.map((k) => ({ record: k.record - head, source: k.source })) },
    };
  const pace = Math.abs(speedOf(retime));
  const [atHead, atTail] = [Math.round(head * pace), Math.round(tail * pace)];
  const reverse = speedOf(retime) < 0;
  return {
    ...event,
    record,
    source: reverse ? { in: source.in + atTail, out: source.out - atHead } : { in: source.in + atHead, out: source.out - atTail },
  };
}

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
        const moved = withRecord(event, { in: event.record.in - before, out: event.record.out - early });
        return moved.transitionIn && before > 0 ? { ...moved, transitionIn: { ...moved.transitionIn, before: 0 } } : moved;
      }),
    })),
  };
}
