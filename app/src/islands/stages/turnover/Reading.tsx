import { type ListDescription, SEVERITIES, type Severity } from '@gemello/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import type { TurnoverView } from '../../../contract';
import { useView } from '../../data/view';
import { useNarrow } from '../../parts/useNarrow';
import { RawText } from './RawText';
import { Severities } from './Severities';

/** The arrival report and the events, and beside them the text they came from. Either leads to the other. */
export function Reading({ turnover }: { turnover: TurnoverView }) {
  const narrow = useNarrow();
  const { list, notices } = turnover;
  const { event, choose } = useView();
  const [shown, setShown] = useState<Severity | null>(null);
  const known = useMemo(() => new Set(list.tracks.flatMap((t) => t.events.map((e) => e.key))), [list]);
  const go = (id: string | null) => {
    if (id && known.has(id)) choose(id, useView.getState().frame ?? 0);
  };
  const counts = Object.fromEntries(SEVERITIES.map((s) => [s, notices.filter((n) => n.severity === s).length])) as Record<Severity, number>;
  const visible = notices.filter((n) => !shown || n.severity === shown);
  return (
    <Group orientation={narrow ? 'vertical' : 'horizontal'} className="grow min-h-0">
      <Panel defaultSize="54%" minSize="30%" className="flex flex-col min-h-0">
        <div className="px-4 py-2 flex gap-2 items-center text-xs border-b border-base-300">
          <h2 className="font-medium mr-1">What came across</h2>
          <Severities counts={counts} shown={shown} onShow={setShown} />
        </div>
        {(visible.length > 0 || turnover.preparation.length > 0) && (
          <div className="overflow-y-auto max-h-[45%] shrink-0 border-b border-base-300">
            <ul>
              {visible.slice(0, 500).map((n, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: notices have no identity and never move
                <li key={i}>
                  <button
                    type="button"
                    className="w-full text-left px-4 py-1 text-xs flex gap-3 hover:bg-base-200"
                    onClick={() => go(n.key)}
                  >
                    <span className={`w-20 shrink-0 ${n.severity === 'kept' ? 'quiet' : 'text-warning'}`}>{n.severity}</span>
                    <span className="tc w-16 shrink-0 quiet">{placeOf(turnover, n)}</span>
                    <span>{n.message}</span>
                  </button>
                </li>
              ))}
            </ul>
            {visible.length > 500 && <p className="px-4 py-1 text-xs quiet">{visible.length - 500} more of this kind.</p>}
            <Preparation turnover={turnover} event={event} onGo={go} />
          </div>
        )}
        <EventTable list={list} chosen={event} onChoose={go} />
      </Panel>
      <Separator className="w-1 bg-base-300 hover:bg-accent" />
      <Panel minSize="20%">
        <RawText turnover={turnover} event={event} onChoose={go} />
      </Panel>
    </Group>
  );
}

const placeOf = ({ files }: TurnoverView, { line, place, part }: TurnoverView['notices'][number]): string =>
  place === null ? '' : files.length > 1 ? `V${(part ?? 0) + 1} ${line ?? place}` : place;

function Preparation({ turnover, event, onGo }: { turnover: TurnoverView; event: string | null; onGo: (id: string | null) => void }) {
  if (turnover.preparation.length === 0) return null;
  return (
    <section aria-label="Preparation" className="pb-1">
      <h3 className="px-4 pt-1.5 pb-0.5 text-xs quiet">Not prepared for turnover</h3>
      {turnover.preparation.map((u) => (
        <button
          key={u.code}
          type="button"
          className="w-full text-left px-4 py-0.5 text-xs hover:bg-base-200"
          onClick={() => onGo(nextOf(u.events, event))}
        >
          {u.message}
        </button>
      ))}
    </section>
  );
}

/** The event after the chosen one among those named, so that clicking again goes on to the next. */
const nextOf = (events: readonly string[], chosen: string | null): string | null =>
  events[(events.indexOf(chosen ?? '') + 1) % Math.max(1, events.length)] ?? null;

const HEADINGS = ['Event', 'Track', 'Reel', 'Clip name', 'Source in', 'Record in', 'Frames'];
const GRID = 'grid grid-cols-[3.5rem_3rem_6rem_minmax(6rem,1fr)_6.5rem_6.5rem_3.5rem] gap-x-2 px-4 items-center';

/** Every event of the list, by track; only the rows in sight are drawn. */
function EventTable({ list, chosen, onChoose }: { list: ListDescription; chosen: string | null; onChoose: (id: string) => void }) {
  const scroller = useRef<HTMLElement>(null);
  const events = useMemo(() => list.tracks.flatMap((t) => t.events.map((e) => ({ ...e, track: t.name }))), [list]);
  const virtual = useVirtualizer({ count: events.length, getScrollElement: () => scroller.current, estimateSize: () => 21, overscan: 20 });
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
    <section ref={scroller} className="grow min-h-0 overflow-y-auto text-xs" aria-label="Events of the list" tabIndex={0}>
      <div className={`${GRID} sticky top-0 z-10 bg-base-100 quiet py-1`}>
        {HEADINGS.map((h) => (
          <span key={h}>{h}</span>
        ))}
      </div>
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const e = events[index];
          return (
            e && (
              <button
                key={e.key}
                type="button"
                tabIndex={-1}
                aria-pressed={e.key === chosen}
                style={{ position: 'absolute', top: start, height: 21 }}
                className={`${GRID} w-full text-left ${e.key === chosen ? 'bg-base-300' : 'hover:bg-base-200'} ${e.enabled ? '' : 'quiet line-through'}`}
                onClick={() => onChoose(e.key)}
              >
                <span className="tc">{e.number}</span>
                <span className="tc">{e.track}</span>
                <span className="tc truncate" title={e.reel}>
                  {e.reel}
                </span>
                <span className="truncate" title={e.clipName}>
                  {e.clipName}
                </span>
                <span className="tc">{e.sourceIn}</span>
                <span className="tc">{e.recordIn}</span>
                <span className="tc">{e.durationFrames}</span>
              </button>
            )
          );
        })}
      </div>
    </section>
  );
}
