import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import type { LedgerRow } from '../../../contract';
import { useDrafts } from '../../data/drafts';
import { useSelection } from '../../data/selection';
import { useView } from '../../data/view';
import { ShotPicture } from '../../parts/Picture';
import { useSettled } from '../../parts/useSettled';
import { useWidth } from '../../parts/useWidth';

/** Least width of a shot, and what stands below its picture, in pixels. */
const [SHOT, CAPTION, GAP] = [132, 22, 8];

/** Shots in cut order with the pictures they have now; only what is in sight is drawn. A click chooses, with Ctrl or Cmd one more, with Shift all between. */
export function Sheet({ job, shots, row }: { job: string; shots: readonly LedgerRow[]; row: LedgerRow }) {
  const [ref, width, element] = useWidth<HTMLDivElement>();
  const drafts = useDrafts((s) => s.grades);
  const measure = useDrafts((s) => s.measure);
  const { keys, select } = useSelection();
  const choose = useView((s) => s.choose);
  const last = useRef(row.id);
  const columns = Math.max(1, Math.floor((width - GAP) / (SHOT + GAP)));
  const each = (width - GAP) / columns - GAP;
  const height = Math.round((each * 9) / 16) + CAPTION + GAP;
  const rows = useVirtualizer({
    count: width === 0 ? 0 : Math.ceil(shots.length / columns),
    getScrollElement: () => element,
    estimateSize: () => height,
    overscan: 2,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured anew where the shots have another height
  useEffect(() => rows.measure(), [height, columns]);
  const at = Math.floor(shots.findIndex((r) => r.id === row.id) / columns);
  useEffect(() => {
    if (at >= 0 && width > 0) rows.scrollToIndex(at, { align: 'auto' });
  }, [at, width, rows]);

  const click = (e: React.MouseEvent, r: LedgerRow) => {
    if (e.shiftKey) {
      const [from, to] = [shots.findIndex((s) => s.id === last.current), shots.indexOf(r)].sort((a, b) => a - b) as [number, number];
      select(shots.slice(from, to + 1).map((s) => s.id));
      return;
    }
    if (e.ctrlKey || e.metaKey) {
      const now = new Set(keys.size === 0 ? [row.id] : keys);
      if (!now.delete(r.id)) now.add(r.id);
      select(now);
      return;
    }
    last.current = r.id;
    select([]);
    choose(r.id, Math.floor((r.recordFrames.in + r.recordFrames.out) / 2));
  };
  return (
    <div ref={ref} className="h-full overflow-y-auto" data-testid="sheet">
      <ul aria-label="Contact sheet" className="relative" style={{ height: rows.getTotalSize() + GAP }}>
        {rows.getVirtualItems().flatMap(({ index, start }) =>
          shots.slice(index * columns, (index + 1) * columns).map((r, i) => (
            <li key={r.id} style={{ position: 'absolute', top: start + GAP, left: GAP + i * (each + GAP), width: each }}>
              <button
                type="button"
                aria-pressed={r.id === row.id || keys.has(r.id)}
                aria-current={r.id === row.id}
                data-event={r.id}
                data-number={r.number}
                className={`block w-full text-left outline-offset-2 ${r.id === row.id ? 'outline-2 outline-accent' : keys.has(r.id) ? 'outline-1 outline-primary' : ''}`}
                onClick={(e) => click(e, r)}
              >
                <Shot job={job} row={r} tried={drafts[r.id] ? JSON.stringify(drafts[r.id]) : null} />
                <span className="flex gap-1.5 text-xs leading-5">
                  <span className="tc">{r.number}</span>
                  <span className="quiet truncate">{r.group ? `${r.group}: ${r.clipName}` : r.clipName}</span>
                  <span className="ml-auto whitespace-nowrap">
                    {r.id === measure ? 'measure' : drafts[r.id] ? 'tried' : [r.cdl && 'CDL', r.lut && 'LUT'].filter(Boolean).join(' ')}
                  </span>
                </span>
              </button>
            </li>
          )),
        )}
      </ul>
    </div>
  );
}

/** How long a grade must have stood before its picture is asked for, in milliseconds. */
const STANDS = 250;

/** The middle frame of a shot, with the grade that is tried for it. */
function Shot({ job, row, tried }: { job: string; row: LedgerRow; tried: string | null }) {
  const cdl = useSettled(tried, STANDS);
  const middle = Math.floor((row.recordFrames.in + row.recordFrames.out) / 2);
  return <ShotPicture job={job} row={row} frame={middle} width={320} cdl={cdl} alt={`Shot ${row.number}`} />;
}
