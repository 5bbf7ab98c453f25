import type { Decision } from '@gemello/core';
import { parseTimecode } from '@gemello/core/time';
import { plural } from '@gemello/core/words';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { CauseView } from '../../../contract';
import { useCauses } from '../../data/pairing';
import { useDecide } from '../../data/queries';

/** One cause for many open events, settled with one button; the others wait behind it. */
export function Causes({ job, onShow }: { job: string; onShow: (events: readonly string[] | null) => void }) {
  const { data: causes = [] } = useCauses(job);
  const decide = useDecide(job);
  const [at, setAt] = useState(0);
  const cause = causes[Math.min(at, causes.length - 1)];
  const settle = (c: CauseView) => {
    onShow(null);
    decide.mutate({ decisions: [...c.decisions], done: c.text });
  };
  useHotkeys('t', () => cause && cause.decisions.length > 0 && settle(cause), [cause]);
  const shift = (frames: number, text: string) => {
    if (!cause) return;
    onShow(null);
    decide.mutate({
      decisions: cause.scopes.map((scope): Decision => ({ kind: 'shift', scope, frames })),
      done: `${plural(cause.events.length, 'event')} shifted by ${text}`,
    });
  };
  if (!cause) return null;
  return (
    <section
      aria-label="One cause for many events"
      className="px-3 py-2 border-b border-base-300 bg-base-200 text-xs flex flex-wrap gap-x-3 gap-y-1 items-center"
    >
      <div className="min-w-0 grow basis-72">
        <p className="text-[13px] font-medium">{cause.text}</p>
        <p className="quiet">
          {cause.votes}
          {cause.decisions.length === 0 && '. Type the shift once pictures have told it.'}
        </p>
      </div>
      <button type="button" className="btn btn-xs btn-ghost" onClick={() => onShow(cause.events)}>
        Show its events
      </button>
      {cause.exceptions.length > 0 && (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => onShow(cause.exceptions)}>
          Show what speaks against it
        </button>
      )}
      {cause.decisions.length > 0 && (
        <button type="button" className="btn btn-xs btn-primary" disabled={decide.isPending} title="T" onClick={() => settle(cause)}>
          {`Apply to ${plural(cause.events.length, 'event')}`}
        </button>
      )}
      {cause.scopes.length > 0 && <Shift key={cause.id} cause={cause} onShift={shift} />}
      <button
        type="button"
        className="btn btn-xs btn-ghost"
        title="It is not proposed again; undo it under Activity"
        onClick={() => {
          onShow(null);
          decide.mutate({ decisions: [{ kind: 'refuse-cause', cause: cause.id, text: cause.text }], done: 'The cause is refused' });
        }}
      >
        Refuse
      </button>
      {causes.length > 1 && (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => setAt((at + 1) % causes.length)}>
          {`Next of ${causes.length}`}
        </button>
      )}
    </section>
  );
}

/** Another shift than the one that is proposed: a timecode or frames, with its sign. */
function Shift({ cause, onShift }: { cause: CauseView; onShift: (frames: number, text: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  if (typed === null)
    return (
      <button type="button" className="btn btn-xs btn-ghost" onClick={() => setTyped(cause.shift)}>
        Another shift
      </button>
    );
  const [, sign, amount = ''] = /^([+-]?)(.+)$/.exec(typed.trim()) ?? [];
  const length = /^\d+$/.test(amount) ? Number(amount) : parseTimecode(amount, cause.rate);
  return (
    <form
      className="flex gap-1"
      onSubmit={(e) => {
        e.preventDefault();
        if (length !== null) onShift(sign === '-' ? -length : length, typed.trim());
      }}
    >
      <input
        className="input input-xs w-32 tc"
        aria-label="Shift of source timecode"
        placeholder="+00:00:00:00"
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
      />
      <button type="submit" className="btn btn-xs" disabled={length === null}>
        Shift
      </button>
    </form>
  );
}
