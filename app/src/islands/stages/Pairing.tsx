import type { Decision } from '@gemello/core';
import { READY_RULES } from '@gemello/core/pairing';
import { plural } from '@gemello/core/words';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Group, Panel, Separator } from 'react-resizable-panels';
import type { EventView, JobView, LedgerRow, Twin } from '../../contract';
import { eventName, isUnsettled } from '../data/events';
import { useDecide, useEvent, useSetRules } from '../data/queries';
import { chosenRow, frameIn, useView } from '../data/view';
import { Empty } from '../parts/Empty';
import { Glyph, STATE_WORDS } from '../parts/Glyph';
import { Ledger } from '../parts/Ledger';
import { Picture, ShotPicture } from '../parts/Picture';
import { Transport } from '../parts/Transport';
import { useKey } from '../parts/useKey';
import { useNarrow } from '../parts/useNarrow';
import type { StageProps } from './stage';

type Filter = 'all' | 'open' | LedgerRow['state'];

const accept = (row: LedgerRow, c: Twin): Decision => ({
  kind: 'pair',
  event: row.id,
  original: c.path,
  sourceStartFrame: c.sourceStartFrame,
});

/** The signature view: reference and original of every event face each other, and the bench settles one. */
export function Pairing({ job, view, ledger }: StageProps) {
  const [filter, setFilter] = useState<Filter>('all');
  const { event, choose } = useView();
  const narrow = useNarrow();
  const decide = useDecide(job);
  const rows = ledger.rows.filter((r) => filter === 'all' || (filter === 'open' ? isUnsettled(r) : r.state === filter));
  const row = chosenRow(ledger, event);
  const next = () => {
    const at = ledger.rows.findIndex((r) => r.id === row?.id);
    const found = [...ledger.rows.slice(at + 1), ...ledger.rows.slice(0, at + 1)].find(isUnsettled);
    if (found) choose(found.id, Math.floor((found.recordFrames.in + found.recordFrames.out) / 2));
  };
  const take = (r: LedgerRow, c: Twin) => {
    decide.mutate({ decisions: [accept(r, c)], done: `Event ${r.number} paired with ${c.fileName}` });
  };
  useHotkeys('g', next, [ledger, row]);
  useKey('enter', () => {
    if (!row?.chosen || row.accepted) return;
    take(row, row.chosen);
  }, [row, ledger]);
  if (ledger.rows.length === 0)
    return (
      <Empty title="Nothing to pair yet" goTo="turnover" action="Go to Turnover">
        Events are paired once an edit list is imported under Turnover and a volume is added under Originals.
      </Empty>
    );
  const proposed = ledger.rows.filter((r) => r.state === 'proposed');
  return (
    <div className="h-full flex flex-col min-h-0">
      <div className="flex items-center gap-2 px-3 py-1.5 border-b border-base-300 text-xs flex-wrap">
        <Filters ledger={ledger.rows} filter={filter} onFilter={setFilter} />
        <span className="ml-auto" />
        <RulesBar job={job} view={view} />
        {proposed.length > 0 && (
          <button
            type="button"
            className="btn btn-xs btn-primary"
            disabled={decide.isPending}
            title="Accepts every event with exactly one candidate that meets the rules and has all frames"
            onClick={() =>
              decide.mutate({
                decisions: proposed.flatMap((r) => (r.chosen ? [accept(r, r.chosen)] : [])),
                done: `${plural(proposed.length, 'pair')} accepted`,
              })
            }
          >
            {`Accept all proposed (${proposed.length})`}
          </button>
        )}
      </div>
      <Group orientation={narrow ? 'vertical' : 'horizontal'} className="grow min-h-0">
        <Panel defaultSize="52%" minSize="30%">
          <Ledger job={job} ledger={ledger} rows={rows} />
        </Panel>
        <Separator className={`${narrow ? 'h-1' : 'w-1'} bg-base-300 hover:bg-accent`} />
        <Panel minSize="30%">{row && <Bench job={job} row={row} ledger={ledger} take={take} />}</Panel>
      </Group>
    </div>
  );
}

function Filters({ ledger, filter, onFilter }: { ledger: readonly LedgerRow[]; filter: Filter; onFilter: (f: Filter) => void }) {
  const states = ['proposed', 'contested', 'doubtful', 'short', 'away', 'unpaired', 'paired', 'exempt'] as const;
  const button = (f: Filter, label: React.ReactNode) => (
    <button
      key={f}
      type="button"
      aria-pressed={filter === f}
      className={`btn btn-xs px-1.5 ${filter === f ? 'btn-primary' : 'btn-ghost'}`}
      onClick={() => onFilter(filter === f ? 'all' : f)}
    >
      {label}
    </button>
  );
  return (
    <>
      {button('all', `all ${ledger.length}`)}
      {states
        .filter((s) => ledger.some((r) => r.state === s))
        .map((s) =>
          button(
            s,
            <>
              <Glyph state={s} size={20} />
              {ledger.filter((r) => r.state === s).length} {s}
            </>,
          ),
        )}
    </>
  );
}

/** Which criteria must hold for a candidate to count. Accepted pairs stand whatever is set here. */
function RulesBar({ job, view }: { job: string; view: JobView }) {
  const setRules = useSetRules(job);
  const { rules } = view;
  return (
    <label className="flex items-center gap-1">
      <span className="quiet">Rules</span>
      <select
        className="select select-xs w-auto min-w-20 pe-7"
        value={READY_RULES.some((r) => r.name === rules.name) ? rules.name : ''}
        onChange={(e) => {
          const chosen = READY_RULES.find((r) => r.name === e.target.value);
          if (chosen) setRules.mutate(chosen);
        }}
      >
        {!READY_RULES.some((r) => r.name === rules.name) && <option value="">{rules.name || 'as set'}</option>}
        {READY_RULES.map((r) => (
          <option key={r.name}>{r.name}</option>
        ))}
      </select>
    </label>
  );
}

/** One event is looked at and settled here. */
function Bench({
  job,
  row,
  ledger,
  take,
}: {
  job: string;
  row: LedgerRow;
  ledger: StageProps['ledger'];
  take: (r: LedgerRow, c: Twin) => void;
}) {
  const decide = useDecide(job);
  const { data: event } = useEvent(job, row.id);
  const at = frameIn(
    row,
    useView((s) => s.frame),
  );
  return (
    <div className="h-full overflow-y-auto p-3 space-y-3" data-testid="bench">
      <div className="flex flex-wrap items-center gap-3">
        <Glyph state={row.state} size={38} />
        <div className="min-w-0">
          <p className="font-medium leading-tight truncate">
            <span className="tc">{row.number}</span> {eventName(row)}
          </p>
          <p className="text-xs quiet">
            <span style={{ color: `var(--state-${row.state})` }}>{row.state}</span>: {STATE_WORDS[row.state]}
          </p>
        </div>
        <div className="ml-auto flex gap-1">
          {row.accepted && (
            <button
              type="button"
              className="btn btn-xs"
              onClick={() => decide.mutate({ decisions: [{ kind: 'unpair', event: row.id }], done: `Pair of event ${row.number} removed` })}
            >
              Unpair
            </button>
          )}
          {!row.accepted && (
            <button
              type="button"
              className="btn btn-xs"
              onClick={() =>
                decide.mutate({
                  decisions: [{ kind: 'exempt', event: row.id, exempt: row.state !== 'exempt' }],
                  done: row.state === 'exempt' ? `Event ${row.number} needs an original` : `Event ${row.number} needs no original`,
                })
              }
            >
              {row.state === 'exempt' ? 'Needs an original' : 'No original needed'}
            </button>
          )}
          {row.chosen && !row.accepted && (
            <button type="button" className="btn btn-xs btn-primary" onClick={() => row.chosen && take(row, row.chosen)}>
              Accept pair
            </button>
          )}
        </div>
      </div>
      <div className="grid grid-cols-2 gap-2">
        <Side label="Reference" colour="var(--reference)">
          <Picture job={job} side="reference" frame={at} width={640} look={row.look} alt="Reference at the playhead" empty="no reference" />
        </Side>
        <Side label={row.chosen ? row.chosen.fileName : 'Original'} colour={`var(--state-${row.state})`}>
          <ShotPicture job={job} row={row} frame={at} width={640} alt="Original at the playhead" />
        </Side>
      </div>
      <Transport row={row} rate={ledger.rate} />
      {row.state === 'away' && (
        <p className="text-xs">
          Its original was last seen at {row.acceptedPath}. It comes back by itself when the volume does; scan it again under Originals.
        </p>
      )}
      {row.rates && <Rates job={job} row={row} />}
      {event && (
        <>
          {event.mediaPath && row.state !== 'paired' && (
            <p className="text-xs quiet">
              The offline clip lay at <span className="break-all">{event.mediaPath}</span>
            </p>
          )}
          <Candidates job={job} row={row} contenders={event.contenders} at={at} take={take} />
          <Remarks job={job} row={row} remarks={event.remarks} />
          {event.notes.length > 0 && (
            <div className="text-xs">
              <p className="quiet mb-1">Notes in the list</p>
              {event.notes.map((n) => (
                <p key={n} className="tc">
                  {n}
                </p>
              ))}
            </div>
          )}
        </>
      )}
    </div>
  );
}

/** How an original of another rate runs; the other way is one click away. */
function Rates({ job, row }: { job: string; row: LedgerRow }) {
  const decide = useDecide(job);
  const { rates } = row;
  if (!rates) return null;
  const other = rates.runs === 'real-time' ? ('frame-for-frame' as const) : ('real-time' as const);
  const words = { 'real-time': 'in real time', 'frame-for-frame': 'frame for frame' } as const;
  return (
    <p className="text-xs flex items-baseline gap-2">
      <span>
        {`${rates.original} in a cut of ${rates.cut}, runs ${words[rates.runs]}`}
        {rates.set && <span className="quiet">, as was decided</span>}
      </span>
      <button
        type="button"
        className="btn btn-xs"
        onClick={() =>
          decide.mutate({
            decisions: [{ kind: 'rate-mode', scope: { of: 'event', event: row.id }, mode: other }],
            done: `Event ${row.number} runs ${words[other]}`,
          })
        }
      >
        {`Run ${words[other]}`}
      </button>
    </p>
  );
}

/** What people wrote about the event, and a line to write more. */
function Remarks({ job, row, remarks }: { job: string; row: LedgerRow; remarks: readonly string[] }) {
  const decide = useDecide(job);
  const [text, setText] = useState('');
  const keep = () => {
    const written = text.trim();
    if (written === '') return;
    decide.mutate(
      { decisions: [{ kind: 'note', scope: { of: 'event', event: row.id }, text: written }], done: `Note kept with event ${row.number}` },
      { onSuccess: () => setText('') },
    );
  };
  return (
    <form
      className="text-xs space-y-1"
      onSubmit={(e) => {
        e.preventDefault();
        keep();
      }}
    >
      {remarks.map((remark) => (
        <p key={remark}>{remark}</p>
      ))}
      <div className="flex gap-1">
        <input
          className="input input-xs grow"
          aria-label="Note about this event"
          placeholder="Write a note about this event"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <button type="submit" className="btn btn-xs" disabled={text.trim() === '' || decide.isPending}>
          Save note
        </button>
      </div>
    </form>
  );
}

function Side({ label, colour, children }: { label: string; colour: string; children: React.ReactNode }) {
  return (
    <figure style={{ borderTop: `3px solid ${colour}` }}>
      {children}
      <figcaption className="text-xs quiet mt-1 truncate">{label}</figcaption>
    </figure>
  );
}

const SPEAKS = { agrees: 'agrees', loosely: 'partly', disagrees: 'conflicts', unknown: 'not stated' } as const;
const WEIGHT = {
  agrees: 'var(--state-paired)',
  loosely: 'var(--state-proposed)',
  disagrees: 'var(--state-unpaired)',
  unknown: 'var(--state-exempt)',
} as const;

/** Where an event would begin in an original; the list may ask for what lies outside of it. */
const usedFrom = (frame: number, frames: number): string =>
  frame < 0 || frame >= frames ? 'which do not reach the source in' : `used from frame ${frame}`;

interface CandidatesProps {
  readonly job: string;
  readonly row: LedgerRow;
  readonly contenders: EventView['contenders'];
  readonly at: number;
  readonly take: (row: LedgerRow, twin: Twin) => void;
}

function Candidates({ job, row, contenders, at, take }: CandidatesProps) {
  if (contenders.length === 0)
    return row.state === 'exempt' ? null : (
      <p className="text-xs quiet">
        No original on the volumes has this reel or name. Add the volume it is on under Originals, or loosen the rules.
      </p>
    );
  return (
    <section aria-label="Candidates" className="space-y-2">
      <h2 className="text-xs quiet">{plural(contenders.length, 'candidate')}</h2>
      {contenders.map((c) => {
        const current = c.path === row.chosen?.path;
        return (
          <article
            key={c.path}
            className={`grid grid-cols-[150px_1fr] gap-3 p-2 bg-base-200 border-l-2 ${current ? 'border-accent' : 'border-transparent'}`}
            data-candidate={c.path}
          >
            <Picture
              job={job}
              side="candidate"
              event={row.id}
              path={c.path}
              frame={at}
              width={320}
              look={row.look}
              alt={`Candidate ${c.fileName}`}
              empty="no such frame"
            />
            <div className="min-w-0 text-xs">
              <div className="flex gap-2 items-baseline">
                <span className="truncate" title={c.path}>
                  <span className="quiet">{c.path.split('/').at(-2)} / </span>
                  <span className="font-medium">{c.fileName}</span>
                </span>
                <span className="tc quiet shrink-0">
                  {c.raster.width}×{c.raster.height}
                </span>
                {!(current && row.accepted) && (
                  <button type="button" className="btn btn-xs ml-auto" onClick={() => take(row, c)}>
                    Pair with this
                  </button>
                )}
                {current && row.accepted && <span className="ml-auto quiet">accepted</span>}
              </div>
              <p className="quiet">
                {c.reel || 'no reel'} {c.timecodeIn ?? 'no timecode'} {plural(c.frames, 'frame')}, {usedFrom(c.sourceStartFrame, c.frames)}
              </p>
              <dl className="grid grid-cols-[4.5rem_4rem_1fr] gap-x-2 mt-1">
                {c.evidence.map((e) => (
                  <div key={e.criterion} className="contents">
                    <dt className="quiet">{e.criterion}</dt>
                    <dd style={{ color: WEIGHT[e.result] }}>{SPEAKS[e.result]}</dd>
                    <dd className="truncate" title={e.detail}>
                      {e.detail}
                    </dd>
                  </div>
                ))}
              </dl>
            </div>
          </article>
        );
      })}
    </section>
  );
}
