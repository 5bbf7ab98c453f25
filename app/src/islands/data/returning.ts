import { type ReturnAsked, USUAL_RETURN } from '@gemello/core/returning';
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

interface Returning {
  readonly asked: ReturnAsked;
  /** Which half of the stage is open. */
  readonly way: 'write' | 'back';
  turn(way: 'write' | 'back'): void;
  ask(change: Partial<ReturnAsked>): void;
}

/** How a person asks for returns, kept in this browser from one visit to the next. */
export const useReturning = create<Returning>()(
  persist(
    (set) => ({
      asked: USUAL_RETURN,
      way: 'write',
      turn: (way) => set({ way }),
      ask: (change) => set((s) => ({ asked: { ...s.asked, ...change } })),
    }),
    {
      name: 'gemello-returning',
      version: 2,
      // What an earlier version kept lacks what it did not know.
      migrate: (kept) => {
        const { asked, way } = kept as Partial<Returning>;
        return { asked: { ...USUAL_RETURN, ...asked }, way: way ?? 'write' };
      },
    },
  ),
);
