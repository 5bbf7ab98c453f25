import type { Cdl } from '@gemello/core';
import { create } from 'zustand';

/** How far a shot was from the measure and is with the grade that is proposed, 0 to 1. */
interface Brought {
  readonly to: string;
  readonly before: number;
  readonly after: number;
  readonly clipped: number;
}

interface Drafts {
  /** Grades that are tried and not applied yet, by event. They stay while other events are looked at. */
  readonly grades: Readonly<Record<string, Cdl>>;
  /** Of those that were proposed: what they come to. */
  readonly brought: Readonly<Record<string, Brought>>;
  /** The event that others are brought close to. */
  readonly measure: string | null;
  /** A grade that was copied, and the number of its event. */
  readonly copied: { readonly from: string; readonly cdl: Cdl | null } | null;
  /** Keeps what is tried for an event; null lets it go. */
  draw(event: string, grade: Cdl | null): void;
  drop(events: readonly string[]): void;
  /** Lets go what was applied of what is tried, but not what was changed since. */
  settle(applied: Drafts['grades']): void;
  propose(found: readonly (Omit<Brought, 'to'> & { readonly event: string; readonly cdl: Cdl })[], to: string): void;
  take(measure: string): void;
  copy(copied: Drafts['copied']): void;
}

const without = <T>(all: Readonly<Record<string, T>>, events: readonly string[]): Record<string, T> =>
  Object.fromEntries(Object.entries(all).filter(([event]) => !events.includes(event)));

/** What a person has begun and not decided yet: it outlives the part of the page that shows it. */
export const useDrafts = create<Drafts>((set, get) => ({
  grades: {},
  brought: {},
  measure: null,
  copied: null,
  draw: (event, grade) =>
    set((s) => ({
      grades: grade ? { ...s.grades, [event]: grade } : without(s.grades, [event]),
      // Another grade than the one that was proposed.
      brought: without(s.brought, [event]),
    })),
  drop: (events) => set((s) => ({ grades: without(s.grades, events), brought: without(s.brought, events) })),
  settle: (applied) => {
    const { grades, drop } = get();
    drop(Object.keys(applied).filter((event) => grades[event] === applied[event]));
  },
  propose: (found, to) =>
    set((s) => ({
      grades: { ...s.grades, ...Object.fromEntries(found.map(({ event, cdl }) => [event, cdl])) },
      brought: { ...s.brought, ...Object.fromEntries(found.map(({ event, cdl: _, ...far }) => [event, { ...far, to }])) },
    })),
  take: (measure) => set({ measure }),
  copy: (copied) => set({ copied }),
}));
