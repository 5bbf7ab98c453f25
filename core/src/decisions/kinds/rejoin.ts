import { z } from 'zod';
import { trimmed } from '../../conform';
import type { StandingEvent } from '../../edit';
import { lengthOf } from '../../time';
import { find, put, remove } from '../draft';
import { kind } from '../kind';
import { refuse } from '../refusal';
import { eventKey, onEvent } from '../scope';

/** Makes one event of two that follow each other on the record and in the same source, as a split left them. */
export const rejoin = kind({
  schema: z.object({ kind: z.literal('rejoin'), event: eventKey, with: eventKey }),
  scope: (d) => onEvent(d.event),
  apply(draft, d) {
    const [first, second] = [find(draft, d.event), find(draft, d.with)];
    if (!first || !second) return refuse('no-such-event');
    if (first.next !== second.event || !goesOn(first.event, second.event)) return refuse('not-continuous');
    const whole = trimmed(first.event, { in: first.event.record.in, out: second.event.record.out });
    remove(draft, d.with);
    put(draft, d.event, { record: whole.record, anchor: whole.anchor, markers: [...first.event.markers, ...second.event.markers] });
    return null;
  },
  says: () => 'joined with the one after it',
});

/** True when the second shows, from its first frame, what the first would show if it went on, in the same way. */
function goesOn(a: StandingEvent, b: StandingEvent): boolean {
  const anchorIn = (e: StandingEvent) => e.record.in + (e.anchor?.in ?? 0);
  const anchorOut = (e: StandingEvent) => e.record.in + (e.anchor?.out ?? lengthOf(e.record));
  const same = (...fields: (keyof StandingEvent)[]) => fields.every((f) => JSON.stringify(a[f]) === JSON.stringify(b[f]));
  const standing = (e: StandingEvent) =>
    JSON.stringify(e.placement && { ...e.placement, keys: e.placement.keys.map((k) => k.record + e.record.in) });
  return (
    a.record.out === b.record.in &&
    b.transitionIn === null &&
    anchorIn(a) === anchorIn(b) &&
    anchorOut(a) === anchorOut(b) &&
    standing(a) === standing(b) &&
    same('source', 'sourceRate', 'phase', 'retime', 'rateMode', 'pair', 'bake', 'cdl', 'lut', 'group', 'enabled', 'exempt', 'shift')
  );
}
