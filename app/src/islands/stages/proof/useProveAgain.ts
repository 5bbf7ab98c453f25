import { useEffect, useRef } from 'react';
import type { LedgerView } from '../../../contract';
import { useStart } from '../../data/queries';

/** So many events that were changed here are proved again by themselves; more are left to a button. */
const FEW = 24;
/** Whoever goes on changing is not proved in between, in milliseconds. */
const AT_REST = 700;

/** Looks again at once at what was changed while the proof is open: events whose proof held and holds no longer. */
export function useProveAgain(job: string, { rows }: LedgerView): void {
  const { mutate } = useStart(job);
  const held = useRef<ReadonlySet<string>>(new Set());
  const changed = useRef(new Set<string>());
  useEffect(() => {
    for (const { id, proof } of rows) if (proof?.stale && held.current.has(id)) changed.current.add(id);
    held.current = new Set(rows.filter((r) => r.proof && !r.proof.stale).map((r) => r.id));
    if (changed.current.size === 0) return;
    const timer = setTimeout(() => {
      const events = rows.filter((r) => changed.current.has(r.id) && r.proof?.stale && r.accepted).map((r) => r.id);
      changed.current.clear();
      if (events.length > 0 && events.length <= FEW) mutate({ kind: 'proof', events });
    }, AT_REST);
    return () => clearTimeout(timer);
  }, [rows, mutate]);
}
