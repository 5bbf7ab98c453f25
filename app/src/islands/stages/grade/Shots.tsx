import type { Decision, Scope } from '@gemello/core';
import { plural } from '@gemello/core/words';
import { useState } from 'react';
import type { LedgerRow, LedgerView } from '../../../contract';
import { useDecide } from '../../data/queries';
import { useSelection } from '../../data/selection';
import { emptiedOf } from '../../data/sent';

interface Props {
  readonly job: string;
  readonly ledger: LedgerView;
  readonly row: LedgerRow;
  /** Gives the grade that is seen to events. */
  readonly onGive: (scopes: readonly Scope[], done: string) => void;
}

/** The group of shots that the chosen one is graded with: named, joined, left, selected, and graded as one. */
export function Shots({ job, ledger, row, onGive }: Props) {
  const decide = useDecide(job);
  const { keys, select } = useSelection();
  const [typed, setTyped] = useState('');
  const all = ledger.rows.filter((r) => r.group !== null && r.group === row.group);
  const known = [...new Set(ledger.rows.flatMap((r) => r.group ?? []))].sort();
  const meant = keys.size > 1 ? [...keys] : [row.id];
  const who = meant.length > 1 ? plural(meant.length, 'selected shot') : row.number;
  const put = (group: string | null, done: string) =>
    decide.mutate(
      { decisions: meant.map((event): Decision => ({ kind: 'group', scope: { of: 'event', event }, group })), done },
      { onSuccess: () => setTyped(emptiedOf(typed)) },
    );
  return (
    <fieldset className="border-t border-base-300 pt-2 space-y-1">
      <legend className="sr-only">Group</legend>
      <p className="flex flex-wrap items-center gap-1">
        <span className="quiet">Group</span>
        <span className="truncate" data-testid="group">
          {row.group ?? 'none'}
        </span>
        {row.group && (
          <>
            <button type="button" className="btn btn-xs btn-ghost px-1.5" onClick={() => select(all.map((r) => r.id))}>
              {`Select its ${all.length}`}
            </button>
            <button
              type="button"
              className="btn btn-xs btn-ghost px-1.5"
              disabled={all.length < 2}
              onClick={() =>
                onGive(
                  all.map((r) => ({ of: 'event', event: r.id })),
                  `${plural(all.length, 'event')} of ${row.group} have the grade of ${row.number}`,
                )
              }
            >
              {`Give to its ${all.length}`}
            </button>
            <button type="button" className="btn btn-xs btn-ghost px-1.5" onClick={() => put(null, `${who} taken out of the group`)}>
              {`Take ${who} out`}
            </button>
          </>
        )}
      </p>
      <form
        className="flex gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          if (typed.trim() !== '') put(typed.trim(), `${who} put in the group ${typed.trim()}`);
        }}
      >
        <input
          className="input input-xs w-24 grow"
          aria-label="Name of a group"
          placeholder="name of a group"
          list="groups-of-shots"
          maxLength={60}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
        <datalist id="groups-of-shots">
          {known.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        <button type="submit" className="btn btn-xs" disabled={typed.trim() === '' || decide.isPending}>
          {`Put ${who} in it`}
        </button>
      </form>
    </fieldset>
  );
}
