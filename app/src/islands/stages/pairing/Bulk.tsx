import type { Decision } from '@gemello/core';
import { plural } from '@gemello/core/words';
import type { LedgerRow } from '../../../contract';
import { useDecide } from '../../data/queries';

/** What may be done with several events at once; each button says how many it concerns. */
export function Bulk({ job, rows, onDone }: { job: string; rows: readonly LedgerRow[]; onDone: () => void }) {
  const decide = useDecide(job);
  const acceptable = rows.filter((r) => !r.accepted && r.chosen && (r.state === 'proposed' || r.state === 'short'));
  const contested = rows.filter((r) => !r.accepted && r.chosen && r.state === 'contested');
  const paired = rows.filter((r) => r.accepted);
  const needing = rows.filter((r) => r.state !== 'exempt' && !r.accepted);
  const exempt = rows.filter((r) => r.state === 'exempt');
  const act = (label: string, of: readonly LedgerRow[], decision: (r: LedgerRow) => Decision[], done: string) =>
    of.length > 0 && (
      <button
        type="button"
        className="btn btn-xs"
        disabled={decide.isPending}
        onClick={() =>
          decide.mutate({ decisions: of.flatMap(decision), done: `${plural(of.length, 'event')}: ${done}` }, { onSuccess: onDone })
        }
      >
        {`${label} (${of.length})`}
      </button>
    );
  return (
    <section
      aria-label="Selected events"
      className="flex flex-wrap items-center gap-2 px-3 py-1.5 border-b border-base-300 bg-base-200 text-xs"
    >
      <span className="font-medium">{plural(rows.length, 'event')} selected</span>
      {act(
        'Accept pairs',
        acceptable,
        (r) => (r.chosen ? [{ kind: 'pair', event: r.id, original: r.chosen.path, sourceStartFrame: r.chosen.sourceStartFrame }] : []),
        'paired',
      )}
      {act(
        'Take the first candidate',
        contested,
        (r) => (r.chosen ? [{ kind: 'pair', event: r.id, original: r.chosen.path, sourceStartFrame: r.chosen.sourceStartFrame }] : []),
        'paired with the first of their candidates',
      )}
      {act('Unpair', paired, (r) => [{ kind: 'unpair', event: r.id }], 'pairs removed')}
      {act('No original needed', needing, (r) => [{ kind: 'exempt', event: r.id, exempt: true }], 'no original needed')}
      {act('Needs an original', exempt, (r) => [{ kind: 'exempt', event: r.id, exempt: false }], 'an original is needed')}
      <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={onDone}>
        Clear selection
      </button>
    </section>
  );
}
