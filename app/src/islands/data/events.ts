import type { LedgerRow } from '../../contract';

/** What an event is called on screen: by its clip, else its reel, else what it is. */
export const eventName = ({ clipName, reel, kind }: Pick<LedgerRow, 'clipName' | 'reel' | 'kind'>): string => {
  if (clipName) return clipName;
  return kind === 'clip' ? reel || 'no name' : kind;
};
