import type { Cdl } from '@gemello/core';
import { create } from 'zustand';

interface Drafts {
  /** Grades that are tried on and not applied yet, by event. They stay while other events are looked at. */
  readonly grades: Readonly<Record<string, Cdl>>;
  /** Keeps what is tried on for an event; null lets it go. */
  draw(event: string, grade: Cdl | null): void;
}

/** What a person has begun and not decided yet: it outlives the part of the page that shows it. */
export const useDrafts = create<Drafts>((set) => ({
  grades: {},
  draw: (event, grade) => set(({ grades: { [event]: _, ...others } }) => ({ grades: grade ? { ...others, [event]: grade } : others })),
}));
