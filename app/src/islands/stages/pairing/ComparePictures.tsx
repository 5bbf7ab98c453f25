import { plural } from '@gemello/core/words';
import type { JobView, LedgerRow } from '../../../contract';
import { useStart } from '../../data/queries';
import { useOpenTasks } from '../../parts/TaskLine';

/**
 * Holds the candidates of events against the reference; a picture that none of them has is looked for in all originals. `selected`: of
 * these; without them, of all that nobody paired.
 */
export function ComparePictures({
  job,
  view,
  rows,
  selected,
}: {
  job: string;
  view: JobView;
  rows: readonly LedgerRow[];
  selected: boolean;
}) {
  const start = useStart(job);
  const running = useOpenTasks(view.tasks).some((t) => t.kind === 'compare');
  const asked = rows.filter((r) => r.state !== 'exempt' && (selected || !r.accepted));
  if (!view.reference) return null;
  return (
    <button
      type="button"
      className="btn btn-xs btn-ghost"
      disabled={running || start.isPending || asked.length === 0}
      title={`Holds the candidates of ${plural(asked.length, 'event')} against the reference, and looks in all originals where none has its picture`}
      onClick={() => start.mutate({ kind: 'compare', events: selected ? asked.map((r) => r.id) : null })}
    >
      {running ? 'Comparing pictures' : `Compare pictures (${asked.length})`}
    </button>
  );
}
