import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { LedgerRow, Twin } from '../../../contract';
import { eventName } from '../../data/events';
import { useLooking } from '../../data/looking';
import { useEventUses } from '../../data/pairing';
import { useDecide, useEvent } from '../../data/queries';
import { emptiedOf } from '../../data/sent';
import { frameIn, useView } from '../../data/view';
import { Viewer } from '../../looking/Viewer';
import { Glyph, STATE_WORDS } from '../../parts/Glyph';
import { Tabs } from '../../parts/Tabs';
import { Uses } from '../../parts/Uses';
import type { StageProps } from '../stage';
import { ByHand } from './ByHand';
import { Candidates } from './Candidates';
import { Moved } from './Moved';
import { Values } from './values/Values';

const BELOW = [
  ['pair', 'Original'],
  ['values', 'Values'],
] as const;

/** Why an event needs no original, by its kind. */
const WHY_EXEMPT: Readonly<Record<string, string>> = {
  title: "a title, which the editor's system makes; it has no camera original",
  generator: "a picture that the editor's system makes; it has no camera original",
  bars: 'bars, which have no camera original',
  black: 'black, which has no camera original',
};

interface Props {
  readonly job: string;
  readonly row: LedgerRow;
  readonly ledger: StageProps['ledger'];
  /** Which of its candidates Enter takes, and how another is chosen. */
  readonly current: number;
  readonly onCurrent: (at: number) => void;
  readonly take: (r: LedgerRow, c: Twin) => void;
  /** Events in hand beside it, whose values are meant, too. */
  readonly selected: ReadonlySet<string>;
}

/** One event is looked at and settled here. */
export function Bench({ job, row, ledger, current, onCurrent, take, selected }: Props) {
  const decide = useDecide(job);
  const { below, set } = useLooking();
  const exempt = () =>
    decide.mutate({
      decisions: [{ kind: 'exempt', event: row.id, exempt: row.state !== 'exempt' }],
      done: row.state === 'exempt' ? `Event ${row.number} needs an original` : `Event ${row.number} needs no original`,
    });
  useHotkeys('x', () => !row.accepted && exempt(), [row]);
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
            <span style={{ color: `var(--state-${row.state})` }}>{row.state}</span>:{' '}
            {row.state === 'exempt' ? (WHY_EXEMPT[row.kind] ?? 'switched off, or as was decided') : STATE_WORDS[row.state]}
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
            <button type="button" className="btn btn-xs" title="X" onClick={exempt}>
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
      <div className="h-88">
        <Viewer job={job} ledger={ledger} row={row} at={at} candidate={current} />
      </div>
      <Tabs label="Below the pictures" tabs={BELOW} chosen={below} onChoose={(tab) => set({ below: tab })} />
      {below === 'values' && <Values job={job} ledger={ledger} row={row} at={at} also={selected} />}
      {below === 'pair' && <Settling {...{ job, row, at, current, onCurrent, take }} />}
    </div>
  );
}

/** What an event may be paired with, and what speaks for it. */
function Settling({ job, row, at, current, onCurrent, take }: Omit<Props, 'ledger' | 'selected'> & { at: number }) {
  const { data: event } = useEvent(job, row.id);
  return (
    <>
      {row.state === 'away' && <Moved key={row.id} job={job} row={row} />}
      {(row.state === 'away' || row.state === 'unpaired') && <UsedBy job={job} row={row} />}
      {event?.doubt === 'reel-timecode' && (
        <p className="text-xs">
          Most events of reel {row.reel} find no clip at their timecode, so this one may have found its by chance. Look before it is
          accepted.
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
          <Candidates
            key={row.id}
            job={job}
            row={row}
            contenders={event.contenders}
            at={at}
            current={current}
            onCurrent={onCurrent}
            take={take}
          />
          {row.state !== 'paired' && <ByHand key={`hand ${row.id}`} job={job} row={row} at={at} />}
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
    </>
  );
}

/** Of what is offline: is it used at all, where, and in which versions of the cut? */
function UsedBy({ job, row }: { job: string; row: LedgerRow }) {
  const { data: versions } = useEventUses(job, row.id);
  return (
    versions && (
      <section aria-label="Used by" className="text-xs">
        <Uses versions={versions} usedBy={[]} />
      </section>
    )
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
      { onSuccess: () => setText(emptiedOf(text)) },
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
