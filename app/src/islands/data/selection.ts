import { create } from 'zustand';

interface Selection {
  /** Keys of the events that are selected beside the one that is looked at. */
  readonly keys: ReadonlySet<string>;
  /** Layers that are not seen in the viewer, and those whose events are not moved, by their names. */
  readonly hidden: ReadonlySet<string>;
  readonly locked: ReadonlySet<string>;
  select(keys: Iterable<string>): void;
  toggle(of: 'hidden' | 'locked', layer: string): void;
}

export const useSelection = create<Selection>((set) => ({
  keys: new Set(),
  hidden: new Set(),
  locked: new Set(),
  select: (keys) => set({ keys: new Set(keys) }),
  toggle: (of, layer) =>
    set((s) => {
      const now = new Set(s[of]);
      if (!now.delete(layer)) now.add(layer);
      return { [of]: now };
    }),
}));
