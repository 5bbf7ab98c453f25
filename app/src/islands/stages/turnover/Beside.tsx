import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, useState } from 'react';
import type { BesideView } from '../../../contract';
import { shown } from '../../data/api';
import { useBeside, useCarry, useDiscard } from '../../data/queries';
import { useView } from '../../data/view';

const ASPECT_NAMES: Record<string, string> = {
  names: 'Names',
  reel: 'Reel',
  source: 'Source frames',
  record: 'Record frames',
  speed: 'Speed',
  transition: 'Transition',
  placement: 'Size and position',
  cdl: 'CDL',
  markers: 'Markers',
  notes: 'Notes',
  'switched-off': 'Switched off',
};

/** Two lists of the same cut beside each other: what each has that the other lacks, and the carrying over. */
export function Beside({ job, list, onDone }: { job: string; list: string; onDone: () => void }) {
  const { data: view, error } = shown(useBeside(job, list));
  const [only, setOnly] = useState<string | null>(null);
  const carry = useCarry(job);
  const discard = useDiscard(job);
  if (error)
    return (
      <p className="p-4 text-sm">
        {error.message}{' '}
        <button type="button" className="btn btn-xs" onClick={onDone}>
          Back
        </button>
      </p>
    );
  if (!view) return <p className="p-4 quiet text-xs">Comparing…</p>;
  const rows = view.rows.filter((r) => !only || r.differences.some((d) => d.aspect === only));
  const take = (aspects: string[], events: string[] | null, onlyWhatLacks: boolean) =>
    carry.mutate({ list, aspects, events, onlyWhatLacks });
  return (
    <section aria-label="Two lists compared" className="grow min-h-0 grid grid-cols-[minmax(25rem,0.7fr)_minmax(32rem,1.3fr)]">
      <div className="overflow-y-auto px-4 py-3 border-r border-base-300 text-xs">
        <h2 className="font-medium text-sm">The cut, and {view.fileName} beside it</h2>
        <p className="quiet mb-3">
          Values that you copy become decisions about the cut and can be undone. Neither list is changed.
          {view.unmatchedHere + view.unmatchedThere > 0 &&
            ` ${view.unmatchedHere} events stand in the cut only, ${view.unmatchedThere} in the other list only.`}
        </p>
        <Summary view={view} only={only} onOnly={setOnly} onCarry={(aspect) => take([aspect], null, true)} />
        <p className="flex gap-2 mt-4">
          <button type="button" className="btn btn-sm btn-ghost" onClick={onDone}>
            Back to the reading
          </button>
          <button type="button" className="btn btn-sm btn-ghost" onClick={() => discard.mutate(list, { onSuccess: onDone })}>
            Discard the other list
          </button>
        </p>
      </div>
      <Rows rows={rows} other={view.fileName} onCarry={(event, aspect) => take([aspect], [event], false)} />
    </section>
  );
}

interface SummaryProps {
  readonly view: BesideView;
  readonly only: string | null;
  readonly onOnly: (aspect: string | null) => void;
  readonly onCarry: (aspect: string) => void;
}

function Summary({ view, only, onOnly, onCarry }: SummaryProps) {
  if (view.summary.length === 0) return <p>Both lists agree on every event.</p>;
  return (
    <table className="w-full" aria-label="What each list lacks">
      <thead>
        <tr className="quiet text-left align-bottom">
          <th className="font-normal pb-1">what they say</th>
          <th className="font-normal w-16">cut lacks</th>
          <th className="font-normal w-20">other lacks</th>
          <th className="font-normal w-14">differ</th>
          <th className="font-normal w-28">
            <span className="sr-only">Copy to the cut</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {view.summary.map((s) => (
          <tr key={s.aspect} className={only === s.aspect ? 'bg-base-300' : ''}>
            <td>
              <button
                type="button"
                className="py-1 w-full text-left hover:underline"
                aria-pressed={only === s.aspect}
                onClick={() => onOnly(only === s.aspect ? null : s.aspect)}
              >
                {ASPECT_NAMES[s.aspect] ?? s.aspect}
              </button>
            </td>
            <td className="tc">{s.lacksHere || <span className="quiet">–</span>}</td>
            <td className="tc">{s.lacksThere || <span className="quiet">–</span>}</td>
            <td className="tc">{s.differs || <span className="quiet">–</span>}</td>
            <td className="text-right">
              {s.carriable && s.lacksHere > 0 && (
                <button type="button" className="btn btn-xs" onClick={() => onCarry(s.aspect)}>
                  Copy {s.lacksHere}
                </button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const LINE = 19;

function Rows({ rows, other, onCarry }: { rows: BesideView['rows']; other: string; onCarry: (event: string, aspect: string) => void }) {
  const scroller = useRef<HTMLElement>(null);
  const { event, choose } = useView();
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => 30 + Math.max(1, rows[i]?.differences.length ?? 1) * LINE,
    overscan: 8,
  });
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
    <section ref={scroller} className="overflow-y-auto text-xs" aria-label="Events that differ" tabIndex={0}>
      <div className="sticky top-0 z-10 bg-base-100 quiet px-4 py-1 grid grid-cols-[7.5rem_1fr_1fr_6rem] gap-2">
        <span>Event</span>
        <span>in the cut</span>
        <span className="truncate">{other} says</span>
      </div>
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const row = rows[index];
          if (!row) return null;
          return (
            <div
              key={`${row.event ?? ''} ${row.there ?? ''}`}
              style={{ position: 'absolute', top: start, left: 0, right: 0 }}
              className={`px-4 py-1 border-b border-base-300 ${row.event !== null && row.event === event ? 'bg-base-300' : ''}`}
            >
              <button
                type="button"
                className="flex gap-3 w-full text-left hover:underline"
                onClick={() => row.event && choose(row.event, useView.getState().frame ?? 0)}
              >
                <span className="tc w-10">{row.number}</span>
                <span className="tc quiet">{row.recordIn}</span>
                <span className="truncate">{row.name}</span>
                {row.event === null && <span className="text-warning ml-auto">only in the other list</span>}
                {row.there === null && <span className="text-warning ml-auto">only in the cut</span>}
              </button>
              {row.differences.map((d) => (
                <div key={d.aspect} className="grid grid-cols-[7.5rem_1fr_1fr_6rem] gap-2 items-center" style={{ height: LINE }}>
                  <span className="quiet pl-3">{ASPECT_NAMES[d.aspect] ?? d.aspect}</span>
                  <span className="truncate" title={d.here}>
                    {d.here || <span className="quiet">not stated</span>}
                  </span>
                  <span className="truncate" title={d.there}>
                    {d.there || <span className="quiet">not stated</span>}
                  </span>
                  {d.carriable && row.event && (
                    <button type="button" className="btn btn-xs h-4 min-h-0" onClick={() => row.event && onCarry(row.event, d.aspect)}>
                      carry over
                    </button>
                  )}
                </div>
              ))}
            </div>
          );
        })}
      </div>
    </section>
  );
}
