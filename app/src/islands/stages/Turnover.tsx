import type { ListDescription, Severity } from '@gemello/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import type { JobView, TurnoverView } from '../../contract';
import { useReferencePath, useSetRate, useTurnover, useUpload } from '../data/queries';
import { useView } from '../data/view';
import type { StageProps } from './stage';

/** Lists and reference as delivered, what was asked of them, and what the reading says. */
export function Turnover({ job, view }: StageProps) {
  const { data } = useTurnover(job);
  const turnover = data?.list ? (data as TurnoverView) : null;
  return (
    <DropHere job={job}>
      <div className="h-full flex flex-col min-h-0">
        <Deliveries job={job} view={view} />
        {turnover && <Reading turnover={turnover} />}
      </div>
    </DropHere>
  );
}

const isMovie = (file: File) => /\.(mov|mp4|m4v|mxf|mkv|avi)$/i.test(file.name);

/** Files may be dropped anywhere on the stage: movies become the reference, anything else is read as a list. */
function DropHere({ job, children }: { job: string; children: React.ReactNode }) {
  const list = useUpload(job, 'list');
  const reference = useUpload(job, 'reference');
  const [over, setOver] = useState(false);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the buttons inside do the same by keyboard
    <div
      className={`h-full ${over ? 'outline outline-2 outline-accent -outline-offset-4' : ''}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        for (const file of e.dataTransfer.files) (isMovie(file) ? reference : list).mutate(file);
      }}
    >
      {children}
    </div>
  );
}

function Deliveries({ job, view }: { job: string; view: JobView }) {
  const list = useUpload(job, 'list');
  const reference = useUpload(job, 'reference');
  const byPath = useReferencePath(job);
  const [path, setPath] = useState('');
  return (
    <div className="grid grid-cols-[minmax(17rem,1fr)_minmax(19rem,1.15fr)_minmax(24rem,1.7fr)] gap-x-6 px-4 py-3 border-b border-base-300">
      <section aria-label="Edit list">
        <h2 className="text-xs quiet mb-1">Edit list</h2>
        {view.list ? (
          <p className="mb-2 leading-snug">
            <span className="font-medium">{view.list.fileName}</span>
            <br />
            <span className="quiet text-xs">
              {view.list.title}, from <span className="tc">{view.list.startTimecode}</span>, {view.list.durationFrames} frames
            </span>
          </p>
        ) : (
          <p className="quiet text-xs mb-2">Drop the list here, or choose it. It is kept as it came.</p>
        )}
        <FileButton label={view.list ? 'Bring in another list' : 'Choose the list'} busy={list.isPending} onFile={(f) => list.mutate(f)} />
      </section>
      <section aria-label="Reference movie">
        <h2 className="text-xs quiet mb-1">Reference movie</h2>
        {view.reference ? (
          <p className="mb-2 leading-snug">
            <span className="font-medium">{view.reference.fileName}</span>
            <br />
            <span className="quiet text-xs">
              {view.reference.raster.width}×{view.reference.raster.height} {view.reference.codec}
              {view.reference.timecodeIn && (
                <>
                  , from <span className="tc">{view.reference.timecodeIn}</span>
                </>
              )}
            </span>
          </p>
        ) : (
          <p className="quiet text-xs mb-2">The render of the cut that came along. A large one is best named by its path.</p>
        )}
        <form
          className="flex gap-1"
          onSubmit={(e) => {
            e.preventDefault();
            byPath.mutate(path, { onSuccess: () => setPath('') });
          }}
        >
          <FileButton label="Choose" busy={reference.isPending} onFile={(f) => reference.mutate(f)} />
          <input
            className="input input-xs grow tc"
            aria-label="Path of the reference movie"
            placeholder="or a path on this machine"
            value={path}
            onChange={(e) => setPath(e.target.value)}
          />
          <button type="submit" className="btn btn-xs" disabled={path.trim() === '' || byPath.isPending}>
            Use
          </button>
        </form>
      </section>
      <Checks job={job} view={view} />
    </div>
  );
}

function FileButton({ label, busy, onFile }: { label: string; busy: boolean; onFile: (file: File) => void }) {
  return (
    <label className={`btn btn-xs ${busy ? 'btn-disabled' : ''}`}>
      {busy ? 'Reading…' : label}
      <input
        type="file"
        className="sr-only"
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) onFile(file);
          e.target.value = '';
        }}
      />
    </label>
  );
}

const RATES = ['23.976', '24', '25', '29.97', '29.97df', '30', '47.952', '48', '50', '59.94', '59.94df', '60'];

function Checks({ job, view }: { job: string; view: JobView }) {
  const setRate = useSetRate(job);
  if (view.checks.length === 0)
    return <p className="quiet text-xs self-center">Once a list is here, its rate, start and length are held against the reference.</p>;
  return (
    <section aria-label="Settings check">
      <table className="text-xs w-full">
        <thead>
          <tr className="quiet text-left">
            <th className="font-normal pb-1 w-24">Settings</th>
            <th className="font-normal">List</th>
            <th className="font-normal">Reference</th>
            <th className="font-normal w-24">&nbsp;</th>
          </tr>
        </thead>
        <tbody>
          {view.checks.map((c) => (
            <tr key={c.name} title={c.detail}>
              <td className="py-0.5">{c.name}</td>
              <td className="tc">
                {c.name === 'Frame rate' ? (
                  <select
                    className="select select-xs w-24 tc"
                    aria-label="Rate the list is read at"
                    value={view.list?.rateSet ? rateKey(view.list.rate) : ''}
                    onChange={(e) => setRate.mutate(e.target.value || null)}
                  >
                    <option value="">{view.list?.rateSet ? 'as read' : view.list?.rateStated ? c.list : `${c.list} ?`}</option>
                    {RATES.map((r) => (
                      <option key={r} value={r}>
                        {r}
                      </option>
                    ))}
                  </select>
                ) : (
                  c.list
                )}
              </td>
              <td className="tc">{c.reference}</td>
              <td className={c.agrees === false ? 'text-warning font-medium' : 'quiet'}>
                {c.agrees === null ? '' : c.agrees ? 'agrees' : 'differs'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {view.checks
        .filter((c) => c.agrees === false && c.detail)
        .slice(0, 1)
        .map((c) => (
          <p key={c.name} className="text-xs text-warning mt-1">
            {c.name}: {c.detail}
          </p>
        ))}
    </section>
  );
}

/** The name in the menu for a rate: 24000/1001 is `23.976`. */
function rateKey(rate: { num: number; den: number; dropFrame: boolean }): string {
  return RATES.find((r) => Math.abs(Number.parseFloat(r) - rate.num / rate.den) < 0.003 && r.endsWith('df') === rate.dropFrame) ?? '';
}

const SEVERITIES: readonly Severity[] = ['unreadable', 'lost', 'changed', 'kept'];
const MEANING: Record<Severity, string> = {
  unreadable: 'could not be read',
  lost: 'did not come across',
  changed: 'came across changed',
  kept: 'kept as a note',
};

/** The arrival report and the events, and beside them the text they came from. Either leads to the other. */
function Reading({ turnover }: { turnover: TurnoverView }) {
  const { list, notices } = turnover;
  const { event, choose } = useView();
  const [shown, setShown] = useState<Severity | null>(null);
  const starts = useMemo(() => new Map(list.tracks.flatMap((t) => t.events.map((e) => [e.id, e] as const))), [list]);
  const go = (id: string | null) => {
    if (id && starts.has(id)) choose(id, useView.getState().frame ?? 0);
  };
  const visible = notices.filter((n) => !shown || n.severity === shown);
  const line = event ? (turnover.lines[event] ?? null) : null;
  return (
    <Group orientation="horizontal" className="grow min-h-0">
      <Panel defaultSize="54%" minSize="30%" className="flex flex-col min-h-0">
        <div className="px-4 py-2 flex gap-2 items-center text-xs border-b border-base-300">
          <h2 className="font-medium mr-1">What came across</h2>
          {notices.length === 0 && <span className="quiet">Clean: everything in the list was understood.</span>}
          {SEVERITIES.filter((s) => notices.some((n) => n.severity === s)).map((s) => (
            <button
              key={s}
              type="button"
              aria-pressed={shown === s}
              className={`btn btn-xs ${shown === s ? 'btn-primary' : ''}`}
              onClick={() => setShown(shown === s ? null : s)}
            >
              {notices.filter((n) => n.severity === s).length} {MEANING[s]}
            </button>
          ))}
        </div>
        <div className="overflow-y-auto grow">
          {visible.length > 0 && (
            <ul className="border-b border-base-300">
              {visible.map((n, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: notices have no identity and never move
                <li key={i}>
                  <button
                    type="button"
                    className="w-full text-left px-4 py-1 text-xs flex gap-3 hover:bg-base-200"
                    onClick={() => go(n.event)}
                  >
                    <span className={`w-20 shrink-0 ${n.severity === 'kept' ? 'quiet' : 'text-warning'}`}>{n.severity}</span>
                    <span className="tc w-14 shrink-0 quiet">{n.line === null ? '' : `line ${n.line}`}</span>
                    <span>{n.message}</span>
                  </button>
                </li>
              ))}
            </ul>
          )}
          {turnover.preparation.length > 0 && (
            <section aria-label="Preparation" className="border-b border-base-300 pb-1">
              <h3 className="px-4 pt-1.5 pb-0.5 text-xs quiet">Not cleaned up before it was sent</h3>
              {turnover.preparation.map((u) => (
                <button
                  key={u.code}
                  type="button"
                  className="w-full text-left px-4 py-0.5 text-xs hover:bg-base-200"
                  onClick={() => go(nextOf(u.events, event))}
                >
                  {u.message}
                </button>
              ))}
            </section>
          )}
          <EventTable list={list} chosen={event} onChoose={go} />
        </div>
      </Panel>
      <Separator className="w-1 bg-base-300 hover:bg-accent" />
      <Panel minSize="20%">
        <RawText text={turnover.text} line={line} lines={turnover.lines} onChoose={go} />
      </Panel>
    </Group>
  );
}

/** The event after the chosen one among those named, so that clicking again goes on to the next. */
const nextOf = (events: readonly string[], chosen: string | null): string | null =>
  events[(events.indexOf(chosen ?? '') + 1) % Math.max(1, events.length)] ?? null;

function EventTable({ list, chosen, onChoose }: { list: ListDescription; chosen: string | null; onChoose: (id: string) => void }) {
  const events = list.tracks.flatMap((t) => t.events.map((e) => ({ ...e, track: t.name })));
  return (
    <table className="w-full text-xs">
      <thead className="sticky top-0 bg-base-100">
        <tr className="quiet text-left">
          {['Event', 'Track', 'Reel', 'Clip name', 'Source in', 'Record in', 'Frames'].map((h) => (
            <th key={h} className="font-normal px-2 py-1 first:pl-4">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {events.map((e) => (
          <tr
            key={e.id}
            className={`cursor-pointer ${e.id === chosen ? 'bg-base-300' : 'hover:bg-base-200'}`}
            onClick={() => onChoose(e.id)}
          >
            <td className="tc px-2 pl-4 py-0.5">{e.number}</td>
            <td className="tc px-2">{e.track}</td>
            <td className="tc px-2 max-w-24 truncate">{e.reel}</td>
            <td className="px-2 max-w-44 truncate" title={e.clipName}>
              {e.clipName}
            </td>
            <td className="tc px-2">{e.sourceIn}</td>
            <td className="tc px-2">{e.recordIn}</td>
            <td className="tc px-2">{e.durationFrames}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The list as it came, with the lines of the chosen event marked. */
function RawText({
  text,
  line,
  lines,
  onChoose,
}: {
  text: string;
  line: number | null;
  lines: Record<string, number>;
  onChoose: (id: string) => void;
}) {
  const scroller = useRef<HTMLElement>(null);
  const rows = useMemo(() => text.split(/\r\n|\r|\n/), [text]);
  const events = useMemo(() => Object.entries(lines).sort((a, b) => a[1] - b[1]), [lines]);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => 18, overscan: 20 });
  useEffect(() => {
    if (line !== null) virtual.scrollToIndex(line - 1, { align: 'center' });
  }, [line, virtual]);
  const eventAt = (n: number) => events.findLast(([, at]) => at <= n)?.[0] ?? null;
  const marked = line === null ? null : eventAt(line);
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
    <section ref={scroller} className="h-full overflow-auto bg-base-200" aria-label="The list as it came" tabIndex={0}>
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const id = eventAt(index + 1);
          return (
            <button
              type="button"
              tabIndex={-1}
              key={index}
              style={{ position: 'absolute', top: start, height: 18 }}
              onClick={() => id && onChoose(id)}
              className={`tc text-[11px] leading-[18px] text-left w-full pr-2 whitespace-pre ${marked !== null && id === marked ? 'bg-base-300' : ''}`}
            >
              <span className="quiet inline-block w-10 text-right mr-3">{index + 1}</span>
              {rows[index]}
            </button>
          );
        })}
      </div>
    </section>
  );
}
