import type { Scope } from '@gemello/core';
import { plural } from '@gemello/core/words';
import { useState } from 'react';
import type { LedgerRow } from '../../contract';
import { useSelection } from '../data/selection';

export type Whose = 'event' | 'selection' | 'reel' | 'cut';

/** Whose pictures something is done to: those of an event, of its reel, of a selection, or of the whole cut. */
export function useWhose(row: LedgerRow, first: Whose) {
  const selected = useSelection((s) => s.keys);
  const [of, setOf] = useState<Whose>(first);
  const choices: readonly (readonly [Whose, string])[] = [
    ...(row.reel ? [['reel', `Reel ${row.reel}`] as const] : []),
    ['event', `Event ${row.number}`],
    ...(selected.size > 1 ? [['selection', plural(selected.size, 'selected event')] as const] : []),
    ['cut', 'The whole cut'],
  ];
  const chosen = choices.some(([choice]) => choice === of) ? of : 'event';
  const scopes = (): Scope[] => {
    if (chosen === 'cut') return [{ of: 'cut' }];
    if (chosen === 'reel') return [{ of: 'reel', reel: row.reel }];
    return (chosen === 'event' ? [row.id] : [...selected]).map((key) => ({ of: 'event', event: key }));
  };
  return { choices, chosen, setOf, scopes, says: choices.find(([choice]) => choice === chosen)?.[1] ?? '' };
}
