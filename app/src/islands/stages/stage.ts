import type { JobView, LedgerView } from '../../contract';

/** What every stage is given. */
export interface StageProps {
  readonly job: string;
  readonly view: JobView;
  readonly ledger: LedgerView;
}
