import { framesUnder } from '../conform';
import type { Carried, Decision } from '../decisions';
import { type ListEvent, type Retime, speedOf } from '../edit';
import { type FrameRange, type Frames, lengthOf, overlapOf, type Rate } from '../time';
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
  { rows, shift, rate }: Beside,
  from: string,
  aspects: readonly Carriable[],
  events: ReadonlySet<string> | null,
  onlyWhatLacks: boolean,
): Decision[] {
  return rows.flatMap(({ here, there, differences }): Decision[] => {
    if (!here || !there || (events && !events.has(here.key))) return [];
    const wanted = differences
      .filter((d) => d.lacks !== 'there' && (d.lacks === 'here' || !onlyWhatLacks))
      .map((d) => d.aspect)
      .filter((a): a is Carriable => (aspects as readonly Aspect[]).includes(a));
    if (wanted.length === 0) return [];
    const carried = Object.assign({}, ...wanted.map((aspect) => carriedOf(aspect, here, there, shift, rate))) as Carried;
    return [{ kind: 'carry', event: here.key, from, carried }];
  });
}

function carriedOf(aspect: Carriable, here: ListEvent, there: ListEvent, shift: Frames, rate: Rate): Carried {
  switch (aspect) {
    case 'names':
      return { clipName: there.clipName || here.clipName, fileName: there.fileName || here.fileName };
    case 'reel':
      return { reel: there.reel };
    case 'speed':
      return { retime: there.retime, source: sourceUnder(there.retime, here, there, rate) };
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
function sourceUnder(retime: Retime, here: ListEvent, there: ListEvent, rate: Rate): FrameRange {
  if (retime.kind === 'keyed' || (speedOf(retime) < 0 && overlapOf(here.source, there.source))) return there.source;
  return { in: here.source.in, out: here.source.in + framesUnder({ ...here, retime }, rate, lengthOf(here.record)) };
}
