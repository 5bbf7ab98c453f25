import type { Decision, LutBetween } from '@gemello/core';
import { lutText } from '@gemello/core/edit';
import { useState } from 'react';
import { toast } from 'sonner';
import type { LedgerRow } from '../../../contract';
import { tryLut } from '../../data/api';
import { useDecide } from '../../data/queries';
import { typedSince } from '../../data/sent';
import { Between } from '../../looking/Between';
import { useWhose, type Whose } from '../../looking/useWhose';

/** The look-up table after the CDL of an event, its reel, a selection or the whole cut: seen, rendered, and returned. */
export function Table({ job, row }: { job: string; row: LedgerRow }) {
  const decide = useDecide(job);
  const { choices, chosen, setOf, scopes, says } = useWhose(row, 'event');
  const [typed, setTyped] = useState<{ file?: string; between?: LutBetween }>({});
  const [trying, setTrying] = useState(false);
  const file = (typed.file ?? row.lut?.file ?? '').trim();
  const between = typed.between ?? row.lut?.between ?? 'tetrahedral';
  const keep = (lut: string | null, done: string) =>
    decide.mutate(
      { decisions: scopes().map((scope): Decision => ({ kind: 'lut', scope, lut, between })), done },
      { onSuccess: () => setTyped(typedSince(typed)) },
    );
  const apply = async () => {
    setTrying(true);
    try {
      await tryLut(job, file);
      keep(file, `${says}: graded with a LUT`);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : String(error));
    } finally {
      setTrying(false);
    }
  };
  return (
    <fieldset className="border-t border-base-300 pt-2 space-y-1">
      <legend className="sr-only">LUT after the grade</legend>
      <p className="flex gap-1">
        <span className="quiet">LUT</span>
        <span className="truncate" data-testid="lut" title={row.lut?.file ?? ''}>
          {row.lut ? lutText(row.lut) : 'none'}
        </span>
      </p>
      <form
        className="flex flex-wrap gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          void apply();
        }}
      >
        <input
          className="input input-xs tc w-full"
          aria-label="Path of a LUT"
          placeholder="path of a .cube file"
          value={typed.file ?? row.lut?.file ?? ''}
          onChange={(e) => setTyped({ ...typed, file: e.target.value })}
        />
        <Between value={between} onChange={(to) => setTyped({ ...typed, between: to })} />
        <select className="select select-xs w-32" aria-label="Whose LUT" value={chosen} onChange={(e) => setOf(e.target.value as Whose)}>
          {choices.map(([choice, words]) => (
            <option key={choice} value={choice}>
              {words}
            </option>
          ))}
        </select>
        <button type="submit" className="btn btn-xs" disabled={file === '' || trying || decide.isPending}>
          Apply LUT
        </button>
        <button
          type="button"
          className="btn btn-xs btn-ghost px-1.5"
          disabled={decide.isPending || (chosen === 'event' && row.lut === null)}
          onClick={() => keep(null, `${says}: no LUT`)}
        >
          Remove LUT
        </button>
      </form>
    </fieldset>
  );
}
