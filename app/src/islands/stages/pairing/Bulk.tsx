import type { Decision } from '@gemello/core';
import { plural } from '@gemello/core/words';
import type { LedgerRow, SwapView } from '../../../contract';
import { pairDecision } from '../../data/events';
import { useLarger } from '../../data/pairing';
import { useDecide, useTake } from '../../data/queries';

interface Props {
  readonly job: string;
  readonly rows: readonly LedgerRow[];
  /** Lets go of what was selected when this was asked for, by event. */
  readonly onDone: (events: readonly string[]) => void;
}

/** What may be done with several events at once; each button says how many it concerns. */
export function Bulk({ job, rows, onDone }: Props) {
  // Others may be selected by the time it is done: they stay so.
  const letGo = () => onDone(rows.map((r) => r.id));
  const decide = useDecide(job);
  const larger = useLarger(job);
  const raise = useTake(job);
  const swapped = (decisions: SwapView['decisions']) => ({
    decisions: [...decisions],
    done: `${plural(decisions.length, 'event')}: swapped for the larger read-out`,
  });
  const swapAndRaise = (decisions: SwapView['decisions'], { list, reading }: NonNullable<SwapView['raise']>) =>
    decide.mutate(swapped(decisions), { onSuccess: () => raise.mutate({ list, reading, as: 'cut' }, { onSuccess: letGo }) });
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
          decide.mutate({ decisions: of.flatMap(decision), done: `${plural(of.length, 'event')}: ${done}` }, { onSuccess: letGo })
        }
      >
        {`${label} (${of.length})`}
      </button>
    );
  return (
    <section
      aria-label="Selected events"
      className="flex flex-wrap items-center gap-2 px-3 py-1.5 border-t border-base-300 bg-base-200 text-xs"
    >
      <span className="font-medium">{plural(rows.length, 'event')} selected</span>
      {act('Accept pairs', acceptable, (r) => (r.chosen ? [pairDecision(r, r.chosen)] : []), 'paired')}
      {act(
        'Take the first candidate',
        contested,
        (r) => (r.chosen ? [pairDecision(r, r.chosen)] : []),
        'paired with the first of their candidates',
      )}
      {act('Unpair', paired, (r) => [{ kind: 'unpair', event: r.id }], 'pairs removed')}
      {act('No original needed', needing, (r) => [{ kind: 'exempt', event: r.id, exempt: true }], 'no original needed')}
      {act('Needs an original', exempt, (r) => [{ kind: 'exempt', event: r.id, exempt: false }], 'an original is needed')}
      {paired.length > 0 && (
        <button type="button" className="btn btn-xs" disabled={larger.isPending} onClick={() => larger.mutate(paired.map((r) => r.id))}>
          Find larger read-outs
        </button>
      )}
      {larger.data && larger.data.decisions.length === 0 && <span className="quiet">None is larger than what they are paired with.</span>}
      {larger.data && larger.data.decisions.length > 0 && (
        <>
          <span>
            {larger.data.rasters.map((r) => `${r.from} → ${r.to} (${r.events})`).join(', ')}
            <span className="quiet">{larger.data.cut ? `; the cut stays ${larger.data.cut}` : ''}</span>
          </span>
          <button
            type="button"
            className="btn btn-xs btn-primary"
            disabled={decide.isPending}
            onClick={() => decide.mutate(swapped(larger.data?.decisions ?? []), { onSuccess: letGo })}
          >
            {`Swap for the larger (${larger.data.decisions.length})`}
          </button>
          {larger.data.raise && (
            <button
              type="button"
              className="btn btn-xs"
              disabled={decide.isPending || raise.isPending}
              title={
                larger.data.raise.sameShape
                  ? 'The cut gets their raster; as both have one shape, no bars are added'
                  : 'The cut gets their raster, which has another shape: pictures of the old shape get bars'
              }
              onClick={() => larger.data?.raise && swapAndRaise(larger.data.decisions, larger.data.raise)}
            >
              {`Swap, and raise the cut to ${larger.data.raise.raster}`}
            </button>
          )}
        </>
      )}
      <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={letGo}>
        Clear selection
      </button>
    </section>
  );
}
