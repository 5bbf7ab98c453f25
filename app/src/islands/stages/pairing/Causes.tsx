import type { Decision } from '@gemello/core';
import { parseTimecode } from '@gemello/core/time';
import { plural } from '@gemello/core/words';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { CauseView } from '../../../contract';
import { useDecide } from '../../data/queries';

/**
 * One cause for many open events, settled with one button; the others wait behind it. One that is settled stays in its place until the next
 * is asked for: nothing below moves away under the pointer, and a second click never settles what nobody has read.
 */
export function Causes({ job, causes, onShow }: Props) {
  const decide = useDecide(job);
  const [shown, setShown] = useState<CauseView | null>(null);
  const [settled, setSettled] = useState('');
  if (shown === null && causes[0]) setShown(causes[0]);
  if (shown === null) return null;
  const at = causes.findIndex((c) => c.id === shown.id);
  const cause = causes[at];
  const next = causes[(at + 1) % causes.length];
  return (
    <section
      aria-label="One cause for many events"
      className="px-3 py-2 border-b border-base-300 bg-base-200 text-xs flex flex-wrap gap-x-3 gap-y-1 items-center"
    >
      <div className="min-w-0 grow basis-72">
        <p className={`text-[13px] ${cause ? 'font-medium' : 'quiet'}`}>{(cause ?? shown).text}</p>
        <p className="quiet" role="status">
          {cause ? cause.votes : settled || 'It keeps no events open any more'}
          {cause?.decisions.length === 0 && '. Type the shift once pictures have told it.'}
        </p>
      </div>
      {cause && (
        <Actions
          key={cause.id}
          cause={cause}
          pending={decide.isPending}
          onShow={onShow}
          onSettle={(decisions, done) => {
            onShow(null);
            setSettled(done);
            decide.mutate({ decisions, done }, { onError: () => setSettled('') });
          }}
        />
      )}
      {next && next.id !== shown.id && (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => setShown(next)}>
          {cause ? `Next of ${causes.length}` : `Show the next of ${causes.length}`}
        </button>
      )}
      {!cause && !next && (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => setShown(null)}>
          Close
        </button>
      )}
    </section>
  );
}

interface Props {
  readonly job: string;
  readonly causes: readonly CauseView[];
  readonly onShow: (events: readonly string[] | null) => void;
}

/** What may be done about a cause that stands. */
function Actions({
  cause,
  pending,
  onShow,
  onSettle,
}: {
  readonly cause: CauseView;
  readonly pending: boolean;
  readonly onShow: Props['onShow'];
  readonly onSettle: (decisions: Decision[], done: string) => void;
}) {
  const count = plural(cause.events.length, 'event');
  const apply = () => onSettle([...cause.decisions], `Applied to ${count}`);
  useHotkeys('t', () => cause.decisions.length > 0 && !pending && apply(), [cause, pending]);
  return (
    <>
      <button type="button" className="btn btn-xs btn-ghost" onClick={() => onShow(cause.events)}>
        Show its events
      </button>
      {cause.exceptions.length > 0 && (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => onShow(cause.exceptions)}>
          Show what speaks against it
        </button>
      )}
      {cause.decisions.length > 0 && (
        <button type="button" className="btn btn-xs btn-primary" disabled={pending} title="T" onClick={apply}>
          {`Apply to ${count}`}
        </button>
      )}
      {cause.scopes.length > 0 && (
        <Shift
          cause={cause}
          onShift={(frames, text) =>
            onSettle(
              cause.scopes.map((scope): Decision => ({ kind: 'shift', scope, frames })),
              `${count} shifted by ${text}`,
            )
          }
        />
      )}
      <button
        type="button"
        className="btn btn-xs btn-ghost"
        disabled={pending}
        title="It is not proposed again; undo it under Activity"
        onClick={() => onSettle([{ kind: 'refuse-cause', cause: cause.id, text: cause.text }], 'Refused: it is not proposed again')}
      >
        Refuse
      </button>
    </>
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
