import type { Decision } from '@gemello/core';
import type { StandingEvent } from '@gemello/core/edit';
import { create } from 'zustand';

/** What can be copied from one event to others, or from the same event of another list. */
export const ATTRIBUTES = ['placement', 'speed', 'transition', 'cdl'] as const;
export type Attribute = (typeof ATTRIBUTES)[number];

export const ATTRIBUTE_WORDS: Record<Attribute, string> = {
  placement: 'Size and position',
  speed: 'Speed',
  transition: 'Transition',
  cdl: 'Grade',
};

interface Copied {
  readonly event: StandingEvent | null;
  readonly chosen: ReadonlySet<Attribute>;
  copy(event: StandingEvent): void;
  choose(attribute: Attribute, on: boolean): void;
}

/** The event that was copied, and which of its attributes are meant. */
export const useCopied = create<Copied>((set) => ({
  event: null,
  chosen: new Set<Attribute>(['placement', 'cdl']),
  copy: (event) => set({ event }),
  choose: (attribute, on) =>
    set((s) => {
      const chosen = new Set(s.chosen);
      if (on) chosen.add(attribute);
      else chosen.delete(attribute);
      return { chosen };
    }),
}));

/** Gives events the attributes of one that was copied; the picture at their record in stays where their speed changes. */
export function pasted(from: StandingEvent, onto: readonly StandingEvent[], chosen: ReadonlySet<Attribute>): Decision[] {
  return onto
    .filter((e) => e.key !== from.key)
    .flatMap(({ key: event }): Decision[] => [
      ...(chosen.has('placement') ? [{ kind: 'placement', event, placement: from.placement } as const] : []),
      ...(chosen.has('speed') ? [{ kind: 'speed', event, retime: from.retime, stays: 0 } as const] : []),
      ...(chosen.has('transition') ? [{ kind: 'transition', event, transition: from.transitionIn } as const] : []),
      ...(chosen.has('cdl') ? [{ kind: 'grade', scope: { of: 'event', event } as const, cdl: from.cdl } as const] : []),
    ]);
}
