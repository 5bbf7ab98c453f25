import type { StandingEvent } from '@gemello/core/edit';
import { plural } from '@gemello/core/words';
import { useState } from 'react';
import type { LedgerRow } from '../../../../contract';
import { useCarry, useDecide, useLists } from '../../../data/queries';
import { ATTRIBUTE_WORDS, ATTRIBUTES, pasted, useCopied } from './attributes';

/** Copies what is chosen of an event to others, or takes it from the same events of another list of the cut. */
export function Copying({ job, events, row }: { job: string; events: readonly StandingEvent[]; row: LedgerRow }) {
  const { event: from, chosen, copy, choose } = useCopied();
  const { data: lists } = useLists(job);
  const beside = lists?.filter((l) => l.state === 'beside') ?? [];
  const [list, setList] = useState('');
  const source = list || beside[0]?.id || '';
  const decide = useDecide(job);
  const carry = useCarry(job);
  const [first] = events;
  const what = ATTRIBUTES.filter((a) => chosen.has(a))
    .map((a) => ATTRIBUTE_WORDS[a].toLowerCase())
    .join(', ');
  const onto = from ? events.filter((e) => e.key !== from.key) : [];
  return (
    <fieldset className="space-y-1">
      <legend className="quiet pb-0.5">Copy from event to event</legend>
      <div className="grid grid-cols-2 gap-x-2">
        {ATTRIBUTES.map((a) => (
          <label key={a} className="flex items-center gap-1.5">
            <input type="checkbox" className="checkbox checkbox-xs" checked={chosen.has(a)} onChange={(e) => choose(a, e.target.checked)} />
            {ATTRIBUTE_WORDS[a]}
          </label>
        ))}
      </div>
      <div className="flex flex-wrap gap-1">
        <button type="button" className="btn btn-xs" disabled={!first || events.length !== 1} onClick={() => first && copy(first)}>
          {`Copy from ${row.number}`}
        </button>
        <button
          type="button"
          className="btn btn-xs"
          disabled={!from || onto.length === 0 || chosen.size === 0}
          onClick={() =>
            from &&
            decide.mutate({
              decisions: pasted(from, events, chosen),
              done: `${what} of ${from.number} copied to ${plural(onto.length, 'event')}`,
            })
          }
        >
          {from ? `Paste from ${from.number} onto ${onto.length === 1 ? row.number : plural(onto.length, 'event')}` : 'Paste'}
        </button>
      </div>
      {beside.length > 0 && (
        <div className="flex flex-wrap items-center gap-1">
          <button
            type="button"
            className="btn btn-xs"
            disabled={chosen.size === 0 || carry.isPending}
            onClick={() => carry.mutate({ list: source, aspects: [...chosen], events: events.map((e) => e.key), onlyWhatLacks: false })}
          >
            Take from the same event of
          </button>
          <select className="select select-xs w-36" aria-label="List" value={source} onChange={(e) => setList(e.target.value)}>
            {beside.map((l) => (
              <option key={l.id} value={l.id}>
                {l.files.join(', ')}
              </option>
            ))}
          </select>
        </div>
      )}
    </fieldset>
  );
}
