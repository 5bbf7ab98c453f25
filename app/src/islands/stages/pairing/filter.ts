import type { PairState } from '@gemello/core';
import type { LedgerRow, VolumeView } from '../../../contract';
import { isUnsettled } from '../../data/events';

/** Which events the ledger shows, and how they are grouped. Empty: all. */
export interface PairFilter {
  readonly state: PairState | 'needs-me' | 'scaled' | '';
  readonly reel: string;
  readonly layer: string;
  readonly volume: string;
  readonly group: '' | 'reel' | 'source';
  /** Only these, where a cause shows its own. */
  readonly only: readonly string[] | null;
}

export const NO_PAIR_FILTER: PairFilter = { state: '', reel: '', layer: '', volume: '', group: '', only: null };

const volumeOf = ({ chosen, acceptedPath }: LedgerRow, volumes: readonly VolumeView[]): string => {
  const path = acceptedPath ?? chosen?.path ?? '';
  return volumes.find((v) => path.startsWith(`${v.path}/`))?.name ?? '';
};

function isIn(state: PairFilter['state'], row: LedgerRow): boolean {
  if (state === '') return true;
  if (state === 'scaled') return row.scaled !== null;
  return state === 'needs-me' ? isUnsettled(row) : row.state === state;
}

/** The rows that a filter leaves, those of a group together. */
export function filteredRows(rows: readonly LedgerRow[], filter: PairFilter, volumes: readonly VolumeView[]): LedgerRow[] {
  const only = filter.only && new Set(filter.only);
  const shown = rows.filter(
    (r) =>
      (!only || only.has(r.id)) &&
      isIn(filter.state, r) &&
      (filter.reel === '' || r.reel === filter.reel) &&
      (filter.layer === '' || r.track === filter.layer) &&
      (filter.volume === '' || volumeOf(r, volumes) === filter.volume),
  );
  const { group } = filter;
  if (group === '') return shown;
  const order = new Map<string, number>();
  for (const r of shown) if (!order.has(groupName(r, group))) order.set(groupName(r, group), order.size);
  return shown.sort((a, b) => (order.get(groupName(a, group)) ?? 0) - (order.get(groupName(b, group)) ?? 0));
}

/** What a row's group is called. */
export const groupName = (row: LedgerRow, group: 'reel' | 'source'): string =>
  group === 'reel'
    ? row.reel || 'no reel'
    : (row.acceptedPath ?? row.chosen?.path)?.split('/').pop() || row.fileName || row.clipName || 'no name';

/** The values that a filter may take, in the order of the cut. */
export const valuesOf = (rows: readonly LedgerRow[], of: (row: LedgerRow) => string): string[] =>
  [...new Set(rows.map(of))].filter((v) => v !== '').sort(new Intl.Collator('en', { numeric: true }).compare);
