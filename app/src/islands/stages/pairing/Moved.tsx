import { plural } from '@gemello/core/words';
import type { LedgerRow } from '../../../contract';
import { useRelink } from '../../data/pairing';
import { useDecide } from '../../data/queries';
import { PathForm } from '../../parts/PathForm';

/** Where an original that is away lies now: the common change of path is worked out, and what follows from it shown before it is applied. */
export function Moved({ job, row }: { job: string; row: LedgerRow }) {
  const plan = useRelink(job);
  const decide = useDecide(job);
  const before = row.acceptedPath ?? '';
  const { data } = plan;
  return (
    <section aria-label="Relink" className="text-xs space-y-2">
      <p>
        Its original was last seen at <span className="break-all">{before}</span>. It comes back by itself when its volume does.
      </p>
      <PathForm
        label="Where this original, or its folder, lies now"
        placeholder="where this file, or its folder, lies now"
        verb="Show what follows"
        pending={plan.isPending}
        onPath={(now) => plan.mutate({ before, now })}
      />
      {data && (
        <div className="bg-base-200 p-2 space-y-1">
          <p className="break-all">
            <span className="quiet">what was in</span> {data.from} <span className="quiet">lies in</span> {data.to}
          </p>
          <p>
            {data.found === 0
              ? 'None of the missing originals was found there. Add that place as a volume under Originals first.'
              : `${plural(data.found, 'missing original is', 'missing originals are')} there.`}
            {data.found > 0 &&
              data.exceptions.length > 0 &&
              ` ${plural(data.exceptions.length, 'is', 'are')} not: ${data.exceptions.map((p) => p.split('/').pop()).join(', ')}.`}
          </p>
          {data.found > 0 && (
            <button
              type="button"
              className="btn btn-xs btn-primary"
              disabled={decide.isPending}
              onClick={() =>
                decide.mutate(
                  {
                    decisions: [{ kind: 'folder-move', from: data.from, to: data.to }],
                    done: `${plural(data.found, 'original')} relinked`,
                  },
                  { onSuccess: () => plan.reset() },
                )
              }
            >
              {`Relink ${plural(data.found, 'original')}`}
            </button>
          )}
        </div>
      )}
    </section>
  );
}
