import type { Finding } from '@gemello/core';
import { showsBest } from '@gemello/core/proof';
import type { LedgerRow } from '../../../contract';
import { openFindings } from '../../data/events';

/** Most serious first (TRADE.md). */
const ORDER: readonly Finding['kind'][] = [
  'wrong-picture',
  'picture-missing',
  'slipped',
  'cut-moved',
  'layer-missing',
  'speed-differs',
  'mirrored',
  'reframed',
  'transition-differs',
  'cannot-tell',
];

export const isLater = (row: LedgerRow, finding: Finding): boolean => row.laterFindings.includes(finding.kind);

/** Where a row stands among findings: what is most serious first, what was put aside last. */
export function weightOf(row: LedgerRow): number {
  const open = openFindings(row);
  const now = open.filter((f) => !isLater(row, f));
  const at = ORDER.indexOf((now[0] ?? open[0])?.kind ?? 'cannot-tell');
  return (now.length === 0 ? 100 : 0) + (row.proof?.verdict === 'differs' ? at : 10 + at);
}

/** The record frame that shows a row's first open finding best. `trace` is there once the event is known; the middle is shown until then. */
export function frameThatShows(row: LedgerRow, trace: readonly (number | null)[] | null): number {
  const { in: from, out } = row.recordFrames;
  const whole = trace && trace.length === out - from ? trace : Array.from({ length: out - from }, () => null);
  return from + showsBest({ trace: whole }, openFindings(row)[0] ?? null);
}
