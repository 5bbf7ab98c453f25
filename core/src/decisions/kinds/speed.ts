import { z } from 'zod';
import { frameAt, framesUnder, runOf } from '../../conform';
import { type Retime, retimeSchema, type StandingEvent } from '../../edit';
import { type Frames, lengthOf, ZERO } from '../../time';
import { type Draft, find, lacksMore, put, runAs, tailOf } from '../draft';
import { kind } from '../kind';
import { refuse } from '../refusal';
import { eventKey, onEvent } from '../scope';

/**
 * Gives an event another speed: natural, constant, reverse, freeze or keyed. The picture at record offset `stays` (from
 * the record in; the first frame where it is not said) is the same as before. Place and length on the record stay.
 */
export const speed = kind({
  schema: z.object({ kind: z.literal('speed'), event: eventKey, retime: retimeSchema, stays: z.int().min(0).default(0) }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, retime, stays }) {
    const found = find(draft, key);
    if (!found) return refuse('no-such-event');
    const { event } = found;
    if (stays >= lengthOf(event.record)) return refuse('outside-event', { stays: lengthOf(event.record) - 1 });
    const then = retimed(draft, event, retime, stays);
    const tail = tailOf(found);
    if (lacksMore(draft, event, then, tail)) return refuse('source-ends');
    put(draft, key, {
      retime: then.retime,
      source: then.source,
      anchor: then.anchor,
      phase: then.phase,
      ...(then.pair === event.pair ? {} : { pair: then.pair }),
    });
    return null;
  },
  says: ({ retime }) => {
    if (retime.kind === 'constant') return `speed ${Number(((100 * retime.speed.num) / retime.speed.den).toFixed(2))} %`;
    return { natural: 'natural speed', freeze: 'a freeze', keyed: 'a speed that changes on the way' }[retime.kind];
  },
});

/** The event at another speed, with the same picture at offset `stays`. */
function retimed(draft: Draft, event: StandingEvent, retime: Retime, stays: Frames): StandingEvent {
  const length = lengthOf(event.record);
  const inList = event.source.in + frameAt(runOf(event, draft.rate), stays);
  const made = anchored(event, retime, inList, stays, framesUnder({ ...event, retime }, draft.rate, length));
  if (!event.pair) return made;
  // The same for the frames of the original, which may be counted at another rate.
  const inOriginal = event.pair.sourceStartFrame + frameAt(runAs(draft, event), stays);
  const lands = frameAt(runOf(made, draft.rate, event.pair.rate ?? event.sourceRate), stays);
  return {
    ...made,
    pair: {
      ...event.pair,
      sourceStartFrame: inOriginal - lands,
      acceptedAt: event.pair.acceptedAt + inOriginal - lands - event.pair.sourceStartFrame,
    },
  };
}

/** An event whose source frame `frame` stands at offset `at`: the first of its span, or the last of a reverse. */
function anchored(event: StandingEvent, retime: Retime, frame: Frames, at: Frames, used: Frames): StandingEvent {
  const length = lengthOf(event.record);
  const anchor = at === 0 ? null : { in: at, out: at + length };
  const backwards = retime.kind === 'constant' && retime.speed.num < 0;
  if (retime.kind === 'keyed') {
    // Keys count from the record in; they are laid so that they pass through the frame.
    const lands = frameAt(runOf({ ...event, retime, anchor: null, phase: ZERO }, event.sourceRate), at);
    return { ...event, retime, anchor: null, phase: ZERO, source: { in: frame - lands, out: frame - lands + lengthOf(event.source) } };
  }
  const source = backwards ? { in: frame + 1 - used, out: frame + 1 } : { in: frame, out: frame + used };
  return { ...event, retime, anchor, phase: ZERO, source };
}
