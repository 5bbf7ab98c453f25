import { form, plural } from '@gemello/core/words';
import { useVirtualizer } from '@tanstack/react-virtual';
import { greatest, group, rollup } from 'd3';
import { useMemo, useState } from 'react';
import type { LedgerRow, ReturnView } from '../../../contract';
import { hasFinding } from '../../data/events';
import { useView } from '../../data/view';
import { TableHead } from '../../parts/TableHead';

/** What the proof left open; each leads to its first event there. */
export function Unproved({ rows }: { rows: readonly LedgerRow[] }) {
  const { choose, go } = useView();
  const paired = rows.filter((r) => r.accepted);
  const open = paired.filter(hasFinding);
  const unproved = paired.filter((r) => !r.proof || r.proof.stale);
  const lines: readonly (readonly [readonly LedgerRow[], string])[] = [
    [open, `${plural(open.length, 'event')} ${form(open.length, 'has', 'have')} findings of the proof that are still open`],
    [
      unproved,
      `${plural(unproved.length, 'paired event')} ${form(unproved.length, 'was', 'were')} not proved as ${form(unproved.length, 'it stands', 'they stand')} now`,
    ],
  ];
  return lines.map(
    ([found, says]) =>
      found[0] && (
        <button
          key={says}
          type="button"
          className="block w-full text-left px-4 py-1 text-xs text-warning border-b border-base-300 hover:bg-base-200"
          onClick={() => {
            const [first] = found;
            if (first) choose(first.id, first.recordFrames.in);
            go('proof');
          }}
        >
          {says}
        </button>
      ),
  );
}

/** What each kind of warning comes to, the gravest first. */
const KINDS: readonly { code: ReturnView['warnings'][number]['code']; of: (n: number, events: number) => string }[] = [
  {
    code: 'not-paired',
    of: (n, events) =>
      `${n} of ${events} events ${form(n, 'has', 'have')} no accepted original and will not be rendered; the list keeps what the editor had there`,
  },
  { code: 'frames-missing', of: (n) => `${plural(n, 'clip lacks', 'clips lack')} frames that the cut shows` },
  {
    code: 'not-baked',
    of: (n) =>
      `${plural(n, 'event keeps its placement', 'events keep their placement')} in the list: it moves, and the clip runs at another speed`,
  },
  {
    code: 'baked',
    of: (n) =>
      `${plural(n, 'event has its speed', 'events have their speed')} in the pictures; only the first frame has the timecode of the source`,
  },
  { code: 'no-sound', of: (n) => `${plural(n, 'clip goes', 'clips go')} without sound` },
  { code: 'short-handles', of: (n) => `${plural(n, 'event has', 'events have')} shorter handles than asked for` },
];

/** One line for each kind of warning; it unfolds to the events, each of which leads to its place under Pairing. */
export function Warnings({ warnings, events }: { warnings: ReturnView['warnings']; events: number }) {
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const found = useMemo(() => group(warnings, (w) => w.code), [warnings]);
  return KINDS.map(({ code, of }) => {
    const its = found.get(code);
    return (
      its && (
        <details
          key={code}
          className="border-b border-base-300"
          onToggle={(e) => {
            const { open: isOpen } = e.currentTarget;
            setOpen((before) => new Set(isOpen ? [...before, code] : [...before].filter((c) => c !== code)));
          }}
        >
          <summary className="cursor-pointer px-4 py-1 text-xs text-warning hover:bg-base-200">{of(its.length, events)}</summary>
          {open.has(code) && <Warned warnings={its} />}
        </details>
      )
    );
  });
}

const LINE = 20;

function Warned({ warnings }: { warnings: ReturnView['warnings'] }) {
  const { choose, go } = useView();
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const virtual = useVirtualizer({
    count: warnings.length,
    getScrollElement: () => scroller,
    estimateSize: () => LINE,
    overscan: 8,
  });
  return (
    <div ref={setScroller} className="max-h-60 overflow-y-auto">
      <ul className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const warning = warnings[index];
          return (
            warning && (
              <li key={warning.event + warning.message} className="absolute inset-x-0" style={{ top: start, height: LINE }}>
                <button
                  type="button"
                  className="w-full text-left pl-8 pr-4 text-xs leading-5 truncate hover:bg-base-200"
                  title={warning.message}
                  onClick={() => {
                    choose(warning.event, useView.getState().frame ?? 0);
                    go('pairing');
                  }}
                >
                  {warning.message}
                </button>
              </li>
            )
          );
        })}
      </ul>
    </div>
  );
}

/** A handle below zero is none: the cut itself lacks frames there. */
const handleText = (frames: number): string => (frames < 0 ? `none, ${plural(-frames, 'frame')} missing` : String(frames));

interface ClipsProps {
  readonly clips: ReturnView['clips'];
  readonly handles: number;
  /** What the table scrolls in, below other lines. */
  readonly scroller: HTMLElement | null;
}

const ROW = 21;

/** The clips that will be written, one row each; only those in sight are made. */
export function Clips({ clips, handles, scroller }: ClipsProps) {
  const { choose, go } = useView();
  const [table, setTable] = useState<HTMLElement | null>(null);
  const virtual = useVirtualizer({
    count: clips.length,
    getScrollElement: () => scroller,
    estimateSize: () => ROW,
    overscan: 12,
    scrollMargin: table?.offsetTop ?? 0,
  });
  const items = virtual.getVirtualItems();
  const above = (items[0]?.start ?? virtual.options.scrollMargin) - virtual.options.scrollMargin;
  const below = virtual.getTotalSize() - ((items.at(-1)?.end ?? virtual.options.scrollMargin) - virtual.options.scrollMargin);
  const raster = commonest(clips.map((c) => `${c.raster.width}×${c.raster.height}`));
  return (
    <table ref={setTable} className="w-full text-xs">
      <TableHead
        headings={['Event', 'Clip to be written', 'Reel', 'Starts at', 'Frames', 'Head handle', 'Tail handle', 'In the pictures']}
      />
      <tbody>
        <Spacer height={above} />
        {items
          .map(({ index }) => clips[index])
          .map(
            (c) =>
              c && (
                <tr key={c.event} style={{ height: ROW }} className="hover:bg-base-200">
                  <td className="tc px-2 pl-4 py-0.5">
                    <button
                      type="button"
                      className="link link-hover"
                      title="Look at it under Pairing"
                      onClick={() => {
                        choose(c.event, useView.getState().frame ?? 0);
                        go('pairing');
                      }}
                    >
                      {c.number}
                    </button>
                    {c.events > 1 && <span className="quiet">{` and ${c.events - 1} more`}</span>}
                  </td>
                  <td className="px-2">{c.fileName}</td>
                  <td className="tc px-2">{c.reel || '–'}</td>
                  <td className="tc px-2">{c.start}</td>
                  <td className="tc px-2">{c.frames}</td>
                  <td className={`tc px-2 ${c.headHandle < handles ? 'text-warning' : ''}`}>{handleText(c.headHandle)}</td>
                  <td className={`tc px-2 ${c.tailHandle < handles ? 'text-warning' : ''}`}>{handleText(c.tailHandle)}</td>
                  <td className="px-2">
                    {[...(c.graded ? ['grade'] : []), ...c.baked].join(', ')}
                    {`${c.raster.width}×${c.raster.height}` !== raster && (
                      <span className="quiet tc">{` ${c.raster.width}×${c.raster.height}`}</span>
                    )}
                  </td>
                </tr>
              ),
          )}
        <Spacer height={below} />
      </tbody>
    </table>
  );
}

const Spacer = ({ height }: { height: number }) =>
  height > 0 && (
    <tr>
      <td style={{ height }} />
    </tr>
  );

/** What most of some words are. */
const commonest = (all: readonly string[]): string =>
  greatest(
    rollup(
      all,
      (g) => g.length,
      (one) => one,
    ),
    ([, n]) => n,
  )?.[0] ?? '';
