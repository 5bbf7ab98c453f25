import type { EditList, ListEvent, Retime, Track, Transition } from '../edit';
import { canDropFrames, digitsOfFrames, type Frames, framesOfDigits, nominal, type Rate, sameSpeed, ZERO } from '../time';
import { atRecordIn, frameAt, framesUnder, headFrames, onWholeFrame, rateRatio, runOf, trimmed } from './timemap';

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

/**
 * The cut with the cut point of every transition at its start, in its middle or at its end, for lists that can say no other:
 * the middle where it lies elsewhere, and the start where it comes from black. What is seen at each frame stays the same.
 */
export const withCutsAligned = (list: EditList): EditList => ({
  ...list,
  tracks: list.tracks.map((track) => {
    const by = track.events.map(({ transitionIn: join }) => (join === null ? 0 : alignedCut(join) - join.before));
    if (by.every((n) => n === 0)) return track;
    const events = track.events.map((event, index) => {
      const [own, next] = [by[index] ?? 0, track.events[index + 1]];
      const touches = next !== undefined && next.record.in === event.record.out;
      const moved = trimmed(event, { in: event.record.in + own, out: event.record.out + (touches ? (by[index + 1] ?? 0) : 0) });
      // The transition runs when it ran: its cut lies further into it by as much as it moved.
      const join = moved.transitionIn;
      return join && own !== 0 ? { ...moved, transitionIn: { ...join, before: join.before + own } } : moved;
    });
    return events.every((e) => e.record.out > e.record.in) ? { ...track, events } : track;
  }),
});

/** How far into a transition its cut lies when it is at its start, in its middle or at its end; what comes from black begins with it. */
function alignedCut({ before, duration, from }: Transition): Frames {
  if (from === 'black') return 0;
  return before === 0 || before === duration ? before : Math.floor(duration / 2);
}

/**
 * The cut with every source counted at the rate of the record, for lists that count all at one. Its label stays, since that is
 * what is matched on the card: 10:00:01:09 of 25 is 10:00:01:09 of 24 too. Where one rate is a multiple of the other the
 * frames are counted in step, :30 of 60 being :15 of 30; a frame that the record's rate has not is its last one.
 */
export const atOneRate = (list: EditList): EditList => ({
  ...list,
  tracks: list.tracks.map((t) => ({ ...t, events: t.events.map((e) => countedAt(e, list.rate)) })),
});

function countedAt(event: ListEvent, rate: Rate): ListEvent {
  const { sourceRate, source, retime } = event;
  if (sameSpeed(sourceRate, rate)) return event;
  const counted = { ...rate, dropFrame: sourceRate.dropFrame && canDropFrames(rate) };
  const from = labelAt(source.in, sourceRate, counted);
  const scale = rateRatio(rate, sourceRate, 'real-time');
  const keyed: Retime =
    retime.kind === 'keyed'
      ? { kind: 'keyed', keys: retime.keys.map((k) => ({ record: k.record, source: (k.source * scale.num) / scale.den })) }
      : retime;
  return {
    ...event,
    sourceRate: counted,
    retime: keyed,
    phase: ZERO,
    source: { in: from, out: Math.max(from + 1, labelAt(source.out, sourceRate, counted)) },
  };
}

function labelAt(frame: Frames, from: Rate, to: Rate): Frames {
  const label = digitsOfFrames(Math.max(0, frame), from);
  const [had, has] = [nominal(from), nominal(to)];
  const inStep = had % has === 0 || has % had === 0;
  const frames = inStep ? Math.floor((label.frames * has) / had) : Math.min(label.frames, has - 1);
  return framesOfDigits({ ...label, frames }, to);
}

/**
 * The cut with every source as long as its speed asks for, for lists that name a source by where it begins and how fast it
 * runs. A reverse keeps its end, where it begins to be seen. What is seen stays the same.
 */
export const withSourceAsNeeded = (list: EditList): EditList => ({
  ...list,
  tracks: list.tracks.map((t) => ({ ...t, events: t.events.map((e) => sourceAsNeeded(e, list.rate)) })),
});

function sourceAsNeeded(event: ListEvent, rate: Rate): ListEvent {
  const { retime, source, record, phase, anchor } = event;
  if (retime.kind !== 'constant' || anchor !== null) return event;
  const needed = framesUnder(event, rate, record.out - record.in, phase);
  if (source.out - source.in === needed) return event;
  const backwards = retime.speed.num < 0;
  return { ...event, source: backwards ? { in: source.out - needed, out: source.out } : { in: source.in, out: source.in + needed } };
}

/** The cut with every source on whole frames, for lists that can say no other. */
export const onWholeFrames = (list: EditList): EditList => ({
  ...list,
  tracks: list.tracks.map((t) => ({ ...t, events: t.events.map(onWholeFrame) })),
});

/**
 * The cut without what is switched off, for lists that cannot say so: written as if it were on it would come alive. What led out of it then leads out of
 * black. A list in which nothing is off comes back as it is.
 */
export const withoutSwitchedOff = (list: EditList): EditList =>
  list.tracks.every((t) => t.events.every((e) => e.enabled))
    ? list
    : {
        ...list,
        tracks: list.tracks.map((track) => ({
          ...track,
          events: track.events.flatMap((event, i): ListEvent[] => {
            if (!event.enabled) return [];
            const join = event.transitionIn;
            const alone = join?.from === 'previous' && track.events[i - 1]?.enabled === false;
            return [alone && join ? { ...event, transitionIn: { ...join, from: 'black' } } : event];
          }),
        })),
      };

/**
 * The cut with every event that overlaps another of its track on a layer above it, for lists whose items follow one
 * another. Where the later one does not fill the frame the earlier one is then seen behind it. A list without overlaps comes
 * back as it is.
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
