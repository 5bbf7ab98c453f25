import { formatRate } from '@gemello/core/time';
import { sizeText } from '@gemello/core/words';
import {
  createColumnHelper,
  flexRender,
  getCoreRowModel,
  type SortingState,
  useReactTable,
  type VisibilityState,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import type { OriginalRow } from '../../../contract';
import { ScrubStrip } from './ScrubStrip';
import { sortedBy } from './sort';

const ROW = 46;
const column = createColumnHelper<OriginalRow>();
const COLUMNS = [
  column.accessor('clipName', {
    header: 'Clip and file',
    size: 210,
    cell: ({ row: { original: o } }) => (
      <span className="block leading-tight min-w-0">
        <span className="block truncate">
          <span className="font-medium">{o.clipName}</span>
          {o.proxyOf && <span className="quiet"> proxy</span>}
        </span>
        <span className="block truncate quiet">
          {o.volume} / {o.fileName}
        </span>
      </span>
    ),
  }),
  column.accessor('reel', { header: 'Reel', size: 64, cell: (c) => <span className="tc">{c.getValue() || '–'}</span> }),
  column.accessor('start', {
    id: 'timecode',
    header: 'Timecode in',
    size: 92,
    cell: ({ row: { original: o } }) => <span className="tc">{o.timecodeIn ?? 'none'}</span>,
  }),
  column.accessor('timecodeOut', {
    id: 'out',
    header: 'Timecode out',
    size: 92,
    cell: (c) => <span className="tc">{c.getValue() ?? ''}</span>,
  }),
  column.accessor('frames', { header: 'Frames', size: 56, cell: (c) => <span className="tc">{c.getValue()}</span> }),
  column.accessor((o) => o.rate.num / o.rate.den, {
    id: 'rate',
    header: 'Rate',
    size: 62,
    cell: ({ row: { original: o } }) => <span className="tc">{o.kind === 'still' ? 'still' : formatRate(o.rate)}</span>,
  }),
  column.accessor((o) => o.raster.width * o.raster.height, {
    id: 'raster',
    header: 'Raster',
    size: 78,
    cell: ({ row: { original: o } }) => <span className="tc">{o.kind === 'sound' ? 'sound' : `${o.raster.width}×${o.raster.height}`}</span>,
  }),
  column.accessor('codec', { header: 'Codec', size: 74 }),
  column.accessor('bytes', { header: 'Size', size: 66, cell: (c) => <span className="tc">{sizeText(c.getValue())}</span> }),
  column.accessor((o) => o.usedBy.length, {
    id: 'used',
    header: 'Used by',
    size: 84,
    cell: ({ row: { original: o } }) => <span className="tc block truncate">{o.usedBy.map((u) => u.number).join(' ')}</span>,
  }),
  column.accessor((o) => o.warnings.length, {
    id: 'warnings',
    header: 'Warnings',
    size: 78,
    cell: ({ row: { original: o } }) =>
      o.warnings.length > 0 && (
        <span className="text-warning block truncate">{o.warnings.map((w) => w.code.replaceAll('-', ' ')).join(', ')}</span>
      ),
  }),
  column.accessor((o) => o.tags.join(' '), {
    id: 'tags',
    header: 'Tags',
    size: 84,
    cell: (c) => <span className="block truncate">{c.getValue()}</span>,
  }),
];
const columnId = (c: (typeof COLUMNS)[number]): string => c.id ?? ('accessorKey' in c ? String(c.accessorKey) : '');
const NAMES = Object.fromEntries(COLUMNS.map((c) => [columnId(c), String(c.header)]));
/** What a column sorts by. */
function sortValue(id: string, o: OriginalRow): unknown {
  const found = COLUMNS.find((c) => columnId(c) === id);
  return found && 'accessorFn' in found && found.accessorFn
    ? found.accessorFn(o, 0)
    : o[(found && 'accessorKey' in found ? found.accessorKey : id) as keyof OriginalRow];
}

/** Columns that are left out until they are asked for. */
const FIRST: VisibilityState = { out: false, codec: false, bytes: false, tags: false };

const LEFT_OUT: VisibilityState = { out: false, rate: false, raster: false, bytes: false, codec: false };

interface Props {
  readonly job: string;
  readonly originals: OriginalRow[];
  readonly chosen: string | null;
  readonly onChoose: (path: string) => void;
  readonly selected: ReadonlySet<string>;
  readonly onSelect: (selected: ReadonlySet<string>) => void;
  /** True when there is little room: what the page of a clip shows is then left out. */
  readonly narrow: boolean;
}

/** The originals as a table: sorted by a click on a heading, columns as chosen, only the rows in sight drawn. */
export function ClipTable({ job, originals, chosen, onChoose, selected, onSelect, narrow }: Props) {
  const scroller = useRef<HTMLElement>(null);
  const picked = useRef<number | null>(null);
  const [sorting, setSorting] = useState<SortingState>([]);
  const [visible, setVisible] = useState<VisibilityState>(FIRST);
  const rows = useMemo(() => sortedBy(originals, sorting[0], sortValue), [originals, sorting]);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 6 });
  const inSight = virtual.getVirtualItems();
  const [first, last] = [inSight[0]?.index ?? 0, inSight.at(-1)?.index ?? -1];
  // Only the rows in sight become rows of the table: it makes an object of each, and there may be a hundred thousand.
  const data = useMemo(() => rows.slice(first, last + 1), [rows, first, last]);
  const table = useReactTable({
    data,
    columns: COLUMNS,
    state: { sorting, columnVisibility: narrow ? { ...visible, ...LEFT_OUT } : visible },
    onSortingChange: setSorting,
    onColumnVisibilityChange: setVisible,
    getCoreRowModel: getCoreRowModel(),
    manualSorting: true,
    enableMultiSort: false,
  });
  const drawn = table.getRowModel().rows;
  const shown = table.getVisibleLeafColumns();
  const grid = {
    gridTemplateColumns: `22px 78px ${shown.map((c, i) => (i === 0 ? `minmax(${c.getSize() - 60}px, 1fr)` : `${c.getSize()}px`)).join(' ')}`,
  };
  const select = (index: number, on: boolean, reach: boolean) => {
    const from = reach && picked.current !== null ? picked.current : index;
    const next = new Set(selected);
    for (let i = Math.min(from, index); i <= Math.max(from, index); i++) {
      const path = rows[i]?.path;
      if (path && on) next.add(path);
      else if (path) next.delete(path);
    }
    picked.current = index;
    onSelect(next);
  };
  const all = rows.length > 0 && rows.every((o) => selected.has(o.path));
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
    <section ref={scroller} className="grow min-h-0 overflow-auto text-xs" data-testid="originals" aria-label="Originals" tabIndex={0}>
      <div className="grid gap-x-2 px-3 py-1 quiet sticky top-0 bg-base-100 z-10 items-center" style={grid}>
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          aria-label="Select all that are shown"
          checked={all}
          onChange={() => onSelect(all ? new Set() : new Set(rows.map((o) => o.path)))}
        />
        <ColumnChoice visible={visible} onVisible={setVisible} />
        {table.getHeaderGroups()[0]?.headers.map((h) => (
          <button
            key={h.id}
            type="button"
            className="text-left truncate hover:underline"
            aria-label={`Sort by ${String(h.column.columnDef.header)}`}
            onClick={h.column.getToggleSortingHandler()}
          >
            {flexRender(h.column.columnDef.header, h.getContext())}
            {{ asc: ' ↑', desc: ' ↓' }[String(h.column.getIsSorted())] ?? ''}
          </button>
        ))}
      </div>
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {inSight.map(({ index, start }, at) => {
          const row = drawn[at];
          if (!row) return null;
          const o = row.original;
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the name in the row is a button that does the same
            // biome-ignore lint/a11y/noStaticElementInteractions: as above
            <div
              key={o.path}
              style={{ position: 'absolute', top: start, height: ROW, left: 0, right: 0, ...grid }}
              onClick={() => onChoose(o.path)}
              className={`grid gap-x-2 px-3 items-center border-b border-base-300 cursor-default ${o.path === chosen ? 'bg-base-300' : 'hover:bg-base-200'} ${o.here ? '' : 'opacity-70'}`}
            >
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                aria-label={`Select ${o.fileName}`}
                checked={selected.has(o.path)}
                onClick={(e) => e.stopPropagation()}
                onChange={(e) => select(index, e.target.checked, (e.nativeEvent as MouseEvent).shiftKey)}
              />
              <ScrubStrip job={job} clip={o} />
              {row.getVisibleCells().map((cell, i) =>
                i === 0 ? (
                  <button key={cell.id} type="button" className="text-left min-w-0" onClick={() => onChoose(o.path)}>
                    {flexRender(cell.column.columnDef.cell, cell.getContext())}
                  </button>
                ) : (
                  <span key={cell.id} className="min-w-0 truncate">
                    {flexRender(cell.column.columnDef.cell, cell.getContext())}
                  </span>
                ),
              )}
            </div>
          );
        })}
      </div>
    </section>
  );
}

function ColumnChoice({ visible, onVisible }: { visible: VisibilityState; onVisible: (visible: VisibilityState) => void }) {
  return (
    <details className="dropdown">
      <summary className="hover:underline cursor-pointer">Columns</summary>
      <div className="dropdown-content bg-base-200 border border-base-300 p-2 z-20 w-40 text-base-content">
        {Object.entries(NAMES).map(([id, name]) => (
          <label key={id} className="flex gap-2 py-0.5">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              disabled={id === 'clipName'}
              checked={visible[id] !== false}
              onChange={(e) => onVisible({ ...visible, [id]: e.target.checked })}
            />
            {name}
          </label>
        ))}
      </div>
    </details>
  );
}
