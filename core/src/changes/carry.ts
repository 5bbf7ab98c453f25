import { type Carried, type Decision, type EventDecision, settle } from '../decisions';
import { type EditList, type ListEvent, type Retime, speedOf } from '../edit';
import { type FrameRange, type Frames, lengthOf, overlapOf } from '../time';
import type { Aspect, Beside } from './beside';

/** The aspects that can be carried from one list of a cut to the other. */
export const CARRIABLE = ['names', 'reel', 'speed', 'transition', 'placement', 'cdl'] as const satisfies readonly Aspect[];
export type Carriable = (typeof CARRIABLE)[number];

/**
 * The decisions that carry aspects over from the other list to this one, for the events named (all
 * when null). With `onlyWhatLacks` an event's own word stands and only gaps are filled; else the
 * other list's word replaces it.
 */
export function carryDecisions(
  { rows, shift }: Beside,
  from: string,
  aspects: readonly Carriable[],
  events: ReadonlySet<string> | null,
  onlyWhatLacks: boolean,
): EventDecision[] {
  return rows.flatMap(({ here, there, differences }): EventDecision[] => {
    if (!here || !there || (events && !events.has(here.id))) return [];
    const wanted = differences
      .filter((d) => d.lacks !== 'there' && (d.lacks === 'here' || !onlyWhatLacks))
      .map((d) => d.aspect)
      .filter((a): a is Carriable => (aspects as readonly Aspect[]).includes(a));
    if (wanted.length === 0) return [];
    const carried = Object.assign({}, ...wanted.map((aspect) => carriedOf(aspect, here, there, shift))) as Carried;
    return [{ kind: 'carry', event: here.id, from, carried }];
  });
}

function carriedOf(aspect: Carriable, here: ListEvent, there: ListEvent, shift: Frames): Carried {
  switch (aspect) {
    case 'names':
      return { clipName: there.clipName || here.clipName, fileName: there.fileName || here.fileName };
    case 'reel':
      return { reel: there.reel };
    case 'speed':
      return { retime: there.retime, source: sourceUnder(there.retime, here, there) };
    case 'placement':
      return { placement: there.placement };
    case 'cdl':
      return { cdl: there.cdl };
    case 'transition': {
      const join = there.transitionIn;
      if (!join) return { transitionIn: null };
      const begins = there.record.in + shift - join.before;
      return { transitionIn: { ...join, before: Math.min(join.duration, Math.max(0, here.record.in - begins)) } };
    }
  }
}

/** The source an event uses once it runs at the other list's speed: the other's span where both speak of the same frames. */
function sourceUnder(retime: Retime, here: ListEvent, there: ListEvent): FrameRange {
  if (retime.kind === 'keyed' || (speedOf(retime) < 0 && overlapOf(here.source, there.source))) return there.source;
  const frames = Math.max(1, Math.ceil(lengthOf(here.record) * Math.abs(speedOf(retime)) - 1e-6));
  return { in: here.source.in, out: here.source.in + (retime.kind === 'freeze' ? 1 : frames) };
}

/** The cut with what was carried over from other lists. The list itself is not changed; the same input gives the same cut. */
export function withCarried(list: EditList, decisions: readonly Decision[]): EditList {
  const carrying = decisions.filter((d) => d.kind === 'carry');
  if (carrying.length === 0) return list;
  const settled = settle(carrying);
  const tracks = list.tracks.map((track) => ({
    ...track,
    events: track.events.map((event, i): ListEvent => {
      const carried = settled.get(event.id)?.carried;
      if (!carried) return event;
      const made = { ...event, ...carried };
      const behind = track.events[i - 1];
      const touches = behind !== undefined && behind.record.out === event.record.in;
      return made.transitionIn?.from === 'previous' && !touches ? { ...made, transitionIn: { ...made.transitionIn, from: 'black' } } : made;
    }),
  }));
  return { ...list, tracks };
}
