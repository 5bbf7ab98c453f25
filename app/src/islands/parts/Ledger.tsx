import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useState } from 'react';
import type { LedgerRow, LedgerView } from '../../contract';
import { eventName } from '../data/events';
import { chosenRow, frameIn, useView } from '../data/view';
import { Glyph, stateColour } from './Glyph';
import { Picture, ShotPicture } from './Picture';

const ROW = 84;

/** The list of events, one row each, with reference and original facing each other over the seam. */
export function Ledger({ job, ledger, rows }: { job: string; ledger: LedgerView; rows: readonly LedgerRow[] }) {
  const [scroller, setScroller] = useState<HTMLDivElement | null>(null);
  const { event, frame, choose } = useView();
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller, estimateSize: () => ROW, overscan: 4 });
  const chosen = chosenRow(ledger, event);
  const index = rows.findIndex((r) => r.id === chosen?.id);
  useEffect(() => {
    if (scroller && index >= 0) virtual.scrollToIndex(index, { align: 'auto' });
  }, [index, virtual, scroller]);
  return (
    <div ref={setScroller} className="h-full overflow-y-auto" data-testid="ledger">
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index: at, start }) => {
          const row = rows[at];
          if (!row) return null;
          return (
            <div key={row.id} style={{ position: 'absolute', top: start, left: 0, right: 0, height: ROW }}>
              <Row job={job} row={row} chosen={row.id === chosen?.id} onChoose={() => choose(row.id, frameIn(row, frame))} />
            </div>
          );
        })}
      </div>
    </div>
  );
}

function Row({ job, row, chosen, onChoose }: { job: string; row: LedgerRow; chosen: boolean; onChoose: () => void }) {
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
      className={`w-full h-full flex items-center gap-3 px-3 text-left border-b border-base-300 ${chosen ? 'bg-base-300' : 'hover:bg-base-200'}`}
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
          {row.placed && <span title="Has a size, position or crop of its own">placed</span>}
          {row.join && <span title="Transition in, frames">{row.join}</span>}
          {row.slip !== 0 && <span title="Accepted slip, frames">{`slip ${row.slip > 0 ? '+' : ''}${row.slip}`}</span>}
          {row.cdl && <span title="Has a grade">CDL</span>}
        </span>
      </span>
    </button>
  );
}
