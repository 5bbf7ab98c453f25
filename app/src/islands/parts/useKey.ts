import { useHotkeys } from 'react-hotkeys-hook';

/** What takes Enter and the space bar for itself while it has the focus. */
const WANTS_KEYS =
  'button, a[href], summary, select, input, textarea, [contenteditable="true"], [role="button"], [role="tab"], [role="option"]';

/** Marks a part of the page whose buttons leave a key to the stage, such as the rows that choose what the key is about: `data-leaves="enter"`. */
const leaves = (key: string) => `[data-leaves~="${key}"]`;

/** True while what has the focus wants a key for itself. */
const isTaken = (key: string): boolean => {
  const focused = document.activeElement?.closest(WANTS_KEYS) ?? null;
  return focused !== null && focused.closest(leaves(key)) === null;
};

/** A key of a stage that also presses buttons: it acts only where nothing that has the focus wants it. */
export function useKey(key: 'enter' | 'space', act: () => void, deps: readonly unknown[]): void {
  useHotkeys(key, act, { preventDefault: true, ignoreEventWhen: () => isTaken(key) }, [...deps]);
}
