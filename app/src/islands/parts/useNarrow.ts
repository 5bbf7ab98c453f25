import { useSyncExternalStore } from 'react';

/** A page of less than this has no room for two columns: a small window, or a usual one at 200 % zoom. */
const NARROW = '(max-width: 900px)';

/** True while the page is too narrow for two columns. */
export const useNarrow = (): boolean =>
  useSyncExternalStore(
    (changed) => {
      const query = matchMedia(NARROW);
      query.addEventListener('change', changed);
      return () => query.removeEventListener('change', changed);
    },
    () => matchMedia(NARROW).matches,
  );
