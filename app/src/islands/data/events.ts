import type { Decision } from '@gemello/core';
import type { LedgerRow, Twin } from '../../contract';

/** Pairs an event with a candidate, from the frame where that begins. */
export const pairDecision = ({ id }: Pick<LedgerRow, 'id'>, { path, sourceStartFrame }: Twin): Decision => ({
  kind: 'pair',
  event: id,
  original: path,
  sourceStartFrame,
});

/** What an event is called on screen: by its clip, else its reel, else what it is. */
export const eventName = ({ clipName, reel, kind }: Pick<LedgerRow, 'clipName' | 'reel' | 'kind'>): string => {
  if (clipName) return clipName;
  return kind === 'clip' ? reel || 'no name' : kind;
};

/** True while somebody has to look at its pair: an accepted one that lacks frames is settled. */
export const isUnsettled = ({ state, accepted }: LedgerRow): boolean =>
  state !== 'paired' && state !== 'exempt' && !(state === 'short' && accepted);

/** What a proof found of an event and nobody accepted as it is. */
export const openFindings = (row: LedgerRow) => (row.proof?.findings ?? []).filter((f) => !row.acceptedFindings.includes(f.kind));

/** True where a proof that holds found something that is open. */
export const hasFinding = (row: LedgerRow): boolean =>
  row.proof !== null &&
  !row.proof.stale &&
  (row.proof.verdict === 'differs' || row.proof.verdict === 'uncertain') &&
  openFindings(row).length > 0;
