import type { OriginalRow } from '../../../contract';

const inWords = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/**
 * Originals by what a column shows: numbers by size, words as people order them (`A2` before `A10`),
 * what has no value last either way. Without a column as they come. Equal ones keep their order.
 */
export function sortedBy(
  originals: readonly OriginalRow[],
  by: { readonly id: string; readonly desc: boolean } | undefined,
  sortValue: (id: string, o: OriginalRow) => unknown,
): readonly OriginalRow[] {
  if (!by) return originals;
  const keyed = originals.map((o) => ({ o, value: sortValue(by.id, o) }));
  const way = by.desc ? -1 : 1;
  const none = (value: unknown) => value === null || value === undefined || value === '';
  keyed.sort((a, b) => {
    if (none(a.value) || none(b.value)) return Number(none(a.value)) - Number(none(b.value));
    if (typeof a.value === 'number' && typeof b.value === 'number') return way * (a.value - b.value);
    return way * inWords.compare(String(a.value), String(b.value));
  });
  return keyed.map((k) => k.o);
}
