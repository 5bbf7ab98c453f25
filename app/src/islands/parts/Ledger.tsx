import { plural } from '@gemello/core/words';
import { useVirtualizer } from '@tanstack/react-virtual';
import { rollup } from 'd3';
import { useEffect, useMemo, useState } from 'react';
import type { LedgerRow, LedgerView } from '../../contract';
import { eventName } from '../data/events';
import { chosenRow, frameIn, useView } from '../data/view';
import { Glyph, stateColour } from './Glyph';
import { Picture, ShotPicture } from './Picture';

const ROW = 84;

const HEADING = 24;
const NONE: ReadonlySet<string> = new Set();

interface Props {
  readonly job: string;
  readonly ledger: LedgerView;
  readonly rows: readonly LedgerRow[];
  /** What a row's group is called, where rows stand in groups. */
  readonly groupOf?: ((row: LedgerRow) => string) | null;
  readonly selected?: ReadonlySet<string>;
  readonly onSelect?: (selected: ReadonlySet<string>) => void;
}

type Line = { readonly heading: string; readonly count: number } | { readonly row: LedgerRow };

/** The list of events, one row each, with reference and original facing each other over the seam. Ctrl or Shift and a click select several. */
export function Ledger({ job, ledger, rows, groupOf = null, selected = NONE, onSelect }: Props) {
  const [scroller, setScroller] = useState<HTMLDivElement | null>(null);
  const { event, frame, choose } = useView();
  const lines = useMemo(() => linesOf(rows, groupOf), [rows, groupOf]);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller,
    estimateSize: (i) => ('row' in (lines[i] as Line) ? ROW : HEADING),
    overscan: 4,
  });
  const chosen = chosenRow(ledger, event);
  // What stands above the list may come later and make it shorter.
  const height = virtual.scrollRect?.height ?? 0;
  const index = lines.findIndex((l) => 'row' in l && l.row.id === chosen?.id);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a list that became shorter shows the chosen row anew
  useEffect(() => {
    if (scroller && index >= 0) virtual.scrollToIndex(index, { align: 'auto' });
  }, [index, virtual, scroller, height]);
  const onClick = (row: LedgerRow, { ctrlKey, metaKey, shiftKey }: React.MouseEvent) => {
    if (onSelect && (ctrlKey || metaKey)) {
      const made = new Set(selected);
      if (!made.delete(row.id)) made.add(row.id);
      onSelect(made);
      return;
    }
    if (onSelect && shiftKey) {
      const [from, to] = [rows.findIndex((r) => r.id === chosen?.id), rows.indexOf(row)].sort((a, b) => a - b) as [number, number];
      onSelect(new Set([...selected, ...rows.slice(Math.max(0, from), to + 1).map((r) => r.id)]));
    }
    choose(row.id, frameIn(row, frame));
  };
  return (
    <div ref={setScroller} className="h-full overflow-y-auto" data-testid="ledger">
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index: at, start, size }) => {
          const line = lines[at];
          if (!line) return null;
          return (
            <div
              key={'row' in line ? line.row.id : `group ${line.heading}`}
              style={{ position: 'absolute', top: start, left: 0, right: 0, height: size }}
            >
              {'row' in line ? (
                <Row
                  job={job}
                  row={line.row}
                  chosen={line.row.id === chosen?.id}
                  selected={selected.has(line.row.id)}
                  onChoose={(e) => onClick(line.row, e)}
                />
              ) : (
                <h3 className="px-3 h-full flex items-center gap-2 text-xs bg-base-200 border-b border-base-300">
                  <span className="tc font-medium truncate">{line.heading}</span>
                  <span className="quiet">{plural(line.count, 'event')}</span>
                  {onSelect && groupOf && (
                    <button
                      type="button"
                      className="btn btn-xs btn-ghost h-5 min-h-0 ml-auto"
                      aria-label={`Select the ${plural(line.count, 'event')} of ${line.heading}`}
                      onClick={() => onSelect(new Set([...selected, ...rows.filter((r) => groupOf(r) === line.heading).map((r) => r.id)]))}
                    >
                      Select
                    </button>
                  )}
                </h3>
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}

function linesOf(rows: readonly LedgerRow[], groupOf: Props['groupOf']): Line[] {
  if (!groupOf) return rows.map((row) => ({ row }));
  const counts = rollup(rows as LedgerRow[], (group) => group.length, groupOf);
  let last = '';
  return rows.flatMap((row, i): Line[] => {
    const heading = groupOf(row);
    if (i > 0 && heading === last) return [{ row }];
    last = heading;
    return [{ heading, count: counts.get(heading) ?? 0 }, { row }];
  });
}

function Row({
  job,
  row,
  chosen,
  selected,
  onChoose,
}: {
  job: string;
  row: LedgerRow;
  chosen: boolean;
  selected: boolean;
  onChoose: (e: React.MouseEvent) => void;
}) {
  const middle = Math.floor((row.recordFrames.in + row.recordFrames.out) / 2);
  return (
    <button
      type="button"
      onClick={onChoose}
      aria-pressed={chosen}
      data-event={row.id}
      data-leaves="enter"
      data-number={row.number}
      data-state={row.state}
      className={`w-full h-full flex items-center gap-3 px-3 text-left border-b border-base-300 ${chosen ? 'bg-base-300' : 'hover:bg-base-200'} ${selected ? 'shadow-[inset_4px_0_0_var(--color-accent)]' : ''}`}
      data-selected={selected}
    >
      <span className="flex items-center shrink-0">
        <Picture
          job={job}
          side="reference"
          frame={middle}
          width={224}
          look={row.look}
          alt="Reference"
          empty="no reference"
          className="w-[84px] xl:w-[118px]"
        />
        <span className="w-11 grid place-items-center">
          <Glyph state={row.state} size={34} />
        </span>
        <ShotPicture job={job} row={row} frame={middle} width={224} alt="Original" className="w-[84px] xl:w-[118px]" />
      </span>
      <span className="min-w-0 grow leading-tight">
        <span className="flex gap-2 items-baseline">
          <span className="tc font-medium">{row.number || '–'}</span>
          <span className="tc quiet text-xs">{row.track}</span>
          <span className="truncate font-medium">{eventName(row)}</span>
          <span className="ml-auto text-xs shrink-0" style={{ color: stateColour(row.state) }}>
            {row.state}
          </span>
        </span>
        <span className="flex gap-2 text-xs quiet mt-1">
          <span className="tc truncate max-w-28" title="Reel in the list">
            {row.reel}
          </span>
          <span className="tc" title="Source timecodes in the list">
            {row.sourceIn} – {row.sourceOut}
          </span>
        </span>
        <span className="flex gap-3 text-xs quiet mt-0.5">
          <span className="tc" title="Record in">
            {row.recordIn}
          </span>
          <span title="Length on the record">{row.recordFrames.out - row.recordFrames.in} fr</span>
          {row.speed !== 1 && <span title="Speed">{row.speed === 0 ? 'freeze' : `${Math.round(row.speed * 1000) / 10} %`}</span>}
          {row.rates && (
            <span title={`${row.rates.original} in a cut of ${row.rates.cut}`}>
              {row.rates.runs === 'real-time' ? 'real time' : 'frame for frame'}
            </span>
          )}
          {row.scaled && (
            <span title={`${row.scaled.original} in a cut of ${row.scaled.cut}`}>
              {row.scaled.how === 'larger' ? 'scaled down' : 'scaled up'}
            </span>
          )}
          {row.placed && <span title="Has a size, position or crop of its own">placed</span>}
          {row.join && <span title="Transition in, frames">{row.join}</span>}
          {row.slip !== 0 && <span title="Accepted slip, frames">{`slip ${row.slip > 0 ? '+' : ''}${row.slip}`}</span>}
          {row.cdl && <span title="Has a grade">CDL</span>}
        </span>
      </span>
    </button>
  );
}
