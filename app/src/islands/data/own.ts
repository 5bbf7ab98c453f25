import { create } from 'zustand';
import { createJSONStorage, persist } from 'zustand/middleware';

/** So many are remembered, the latest. */
const KEPT = 500;

/** The batches that were decided on this page, which stays this page when it is loaded again. */
const useOwn = create(
  persist<{ readonly batches: readonly string[] }>(() => ({ batches: [] }), {
    name: 'gemello-decided-here',
    storage: createJSONStorage(() => sessionStorage),
  }),
);

/** Remembers the batch of an answer as decided here; null where nothing was. */
export function decidedHere<T extends { readonly batch: string | null }>(answer: T): T {
  const { batch } = answer;
  if (batch !== null) useOwn.setState(({ batches }) => ({ batches: [...batches, batch].slice(-KEPT) }));
  return answer;
}

interface Logged {
  readonly batch: string;
  readonly withdrawn: boolean;
}

/** What Undo takes back, and what Redo takes up again, of a log whose newest comes first: of what was decided here alone. */
export function nextOf<T extends Logged>(log: readonly T[]): { readonly undo: T | undefined; readonly redo: T | undefined } {
  const own = new Set(useOwn.getState().batches);
  const here = log.filter(({ batch }) => own.has(batch));
  const stands = here.findIndex((d) => !d.withdrawn);
  // Of those undone after the last that stands, the first is the one that was undone last.
  return { undo: here[stands], redo: here[(stands < 0 ? here.length : stands) - 1] };
}
