/** A folder that lies elsewhere now. Paths use `/`. */
export interface FolderMove {
  readonly from: string;
  readonly to: string;
}

/** What follows from a move: which files are found at their new place, and which are not. */
export interface RelinkPlan {
  readonly move: FolderMove;
  /** Missing files that lie at their new place now, old path and new. */
  readonly found: readonly { readonly from: string; readonly to: string }[];
  /** Missing files below the old folder that are not at the new one, by their old path. */
  readonly exceptions: readonly string[];
}

/**
 * The change of path that lies behind one file or folder being elsewhere: what both paths end in alike is taken off, for as
 * long as something is left of both. `/old/DAY_1/A001/x.mov` now at `/new/DAY_1/A001/x.mov` moved `/old` to `/new`. Null
 * where the paths are the same, or end in nothing alike and are not both files or both folders by a name of their own.
 */
export function commonMove(before: string, now: string): FolderMove | null {
  const [old, fresh] = [before, now].map((path) => path.replace(/\/+$/, '').split('/')) as [string[], string[]];
  if (old.join('/') === fresh.join('/')) return null;
  while (old.length > 2 && fresh.length > 2 && old.at(-1) === fresh.at(-1)) {
    old.pop();
    fresh.pop();
  }
  return { from: old.join('/'), to: fresh.join('/') };
}

/** Where a path lies after a move; null where the move does not concern it. */
export const movedBy = ({ from, to }: FolderMove, path: string): string | null =>
  path === from || path.startsWith(`${from}/`) ? to + path.slice(from.length) : null;

/** What a move would bring back of the missing files. `isThere` tells whether an original of the job can be read at a path. */
export function planRelink(move: FolderMove, missing: readonly string[], isThere: (path: string) => boolean): RelinkPlan {
  const found: { from: string; to: string }[] = [];
  const exceptions: string[] = [];
  for (const from of new Set(missing)) {
    const to = movedBy(move, from);
    if (to === null) continue;
    if (isThere(to)) found.push({ from, to });
    else exceptions.push(from);
  }
  return { move, found, exceptions };
}
