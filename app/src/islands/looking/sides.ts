import type { LedgerRow } from '../../contract';
import type { ContenderView, EventView } from '../../contract/ledger';
import { pairDecision } from '../data/events';
import type { SideChoice } from '../data/looking';
import type { Seen } from '../viewing/cuts';

/** A side of the viewer: what it shows and what it is called. */
export interface SideShown {
  readonly seen: Seen;
  readonly says: string;
  /** True where it shows an original that the cut may not use. */
  readonly brings?: boolean;
}

/** The candidate that stands beside the one that is shown: the one that is looked at, or the first other; null where there is none. */
export const otherCandidate = (row: LedgerRow, event: EventView | undefined, current = 0): ContenderView | null => {
  const others = event?.contenders.filter((c) => c.path !== row.chosen?.path) ?? [];
  return others.find((c) => c === event?.contenders[current]) ?? others[0] ?? null;
};

/** What a choice shows of an event; the cut itself where it has nothing of the kind. */
export function sideOf(choice: SideChoice, row: LedgerRow, other: ContenderView | null, lists: ReadonlyMap<string, string>): SideShown {
  const conform: SideShown = { seen: { of: 'conform' }, says: 'Conform' };
  switch (choice) {
    case 'reference':
      return { seen: { of: 'reference' }, says: 'Reference' };
    case 'conform':
      return conform;
    case 'original':
      return row.chosen ? { seen: { of: 'original', event: row.id }, says: `${row.chosen.fileName}, as it was shot` } : conform;
    case 'candidate':
      return other
        ? { seen: { of: 'conform', tried: [pairDecision(row, other)] }, says: `Candidate ${other.fileName}`, brings: true }
        : { ...conform, says: 'Conform; there is no other candidate' };
    default: {
      const list = choice.slice('version '.length);
      const title = lists.get(list);
      return title === undefined ? conform : { seen: { of: 'version', list }, says: title };
    }
  }
}
