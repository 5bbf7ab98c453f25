import { create } from 'zustand';

/** What is being written, and what stood there when that was begun. */
export interface Draft {
  readonly text: string;
  readonly over: string;
}

/** What is written about clips and not saved yet, by the path of the clip: it is still there when a person comes back to the clip. */
export const useNotes = create<{
  readonly notes: Readonly<Record<string, Draft>>;
  write(path: string, text: string, over: string): void;
  /** A draft was saved, or is given up. What was written on meanwhile is now written over what was saved. */
  settle(path: string, saved: string): void;
}>((set) => ({
  notes: {},
  write: (path, text, over) => set(({ notes }) => ({ notes: { ...notes, [path]: { text, over: notes[path]?.over ?? over } } })),
  settle: (path, saved) =>
    set(({ notes: { [path]: draft, ...others } }) => ({
      notes: draft && draft.text !== saved ? { ...others, [path]: { ...draft, over: saved } } : others,
    })),
}));
