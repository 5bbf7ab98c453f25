import { plural } from '@gemello/core/words';
import { toast } from 'sonner';
import { z } from 'zod';
import type { LedgerRow, LedgerView } from '../../../contract';
import { broughtSchema } from '../../../contract';
import { send } from '../../data/api';
import { useDrafts } from '../../data/drafts';
import { useOnce } from '../../data/once';
import { useSelection } from '../../data/selection';

const distance = (n: number) => n.toFixed(3);

/** Brings shots close to one that is taken for the measure: a proposal for each, tried at once, with how far it was and is. */
export function BringClose({ job, ledger, row }: { job: string; ledger: LedgerView; row: LedgerRow }) {
  const { measure, take, propose, brought } = useDrafts();
  const selected = useSelection((s) => s.keys);
  const by = ledger.rows.find((r) => r.id === measure);
  const events = (selected.size > 1 ? [...selected] : [row.id]).filter((event) => event !== measure);
  const bring = useOnce({
    mutationFn: () => send('POST', `/api/jobs/${job}/close`, z.array(broughtSchema), { measure, events }),
    onSuccess(found) {
      const made = found.flatMap((one) => ('cdl' in one ? [one] : []));
      propose(made, by?.number ?? '');
      for (const one of found)
        if ('why' in one) toast.error(`Event ${ledger.rows.find((r) => r.id === one.event)?.number ?? ''}: ${one.why}`);
      if (made.length > 0)
        toast(`${plural(made.length, 'shot')} brought close to ${by?.number ?? ''}, to be tried; nothing is applied yet`);
    },
    onError: (error) => toast.error(error.message),
  });
  const own = brought[row.id];
  return (
    <fieldset className="border-t border-base-300 pt-2 space-y-1">
      <legend className="sr-only">Bring close</legend>
      <p className="flex flex-wrap items-center gap-1">
        <span className="quiet">Measure</span>
        <span className="tc">{by ? by.number : 'none'}</span>
        <button type="button" className="btn btn-xs btn-ghost px-1.5" disabled={measure === row.id} onClick={() => take(row.id)}>
          {`Take ${row.number} for the measure`}
        </button>
      </p>
      <button type="button" className="btn btn-xs" disabled={!by || events.length === 0 || bring.isPending} onClick={() => bring.mutate()}>
        {bring.isPending
          ? 'Looking at the pictures…'
          : `Bring ${events.length > 1 ? plural(events.length, 'selected shot') : row.number} close to ${by?.number ?? 'the measure'}`}
      </button>
      {own && (
        <p data-testid="brought">
          {`Was ${distance(own.before)} from ${own.to}, is ${distance(own.after)} with this grade; 0.010 is hardly seen.`}
          {own.clipped > 0.05 && ` ${Math.round(own.clipped * 100)} % of it is cut off at black or white and was left out.`}
        </p>
      )}
    </fieldset>
  );
}
