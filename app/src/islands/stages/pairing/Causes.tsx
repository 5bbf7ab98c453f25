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
          {cause.decisions.length === 0 && '. Prove by picture to settle it.'}
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
      {causes.length > 1 && (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => setAt((at + 1) % causes.length)}>
          {`Next of ${causes.length}`}
        </button>
      )}
    </section>
  );
}
