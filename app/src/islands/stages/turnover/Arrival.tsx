import { sizeText } from '@gemello/core/words';
import { useState } from 'react';
import type { ArrivalView, ListFigures, Reading } from '../../../contract';
import { shown } from '../../data/api';
import { useArrival, useDiscard, useTake } from '../../data/queries';
import { Checks } from './Checks';
import { Columns } from './Columns';
import { Severities } from './Severities';

const RATES = ['23.976', '24', '25', '29.97', '29.97df', '30', '47.952', '48', '50', '59.94', '59.94df', '60'];

interface ArrivalProps {
  readonly job: string;
  readonly list: string;
  /** How it is read now: what is set is shown as set. */
  readonly stands: Reading;
  readonly hasCut: boolean;
  readonly onDone: () => void;
}

/** A list before it is taken in: what it says, what may be set, and what that would change. */
export function Arrival({ job, list, stands, hasCut, onDone }: ArrivalProps) {
  const [reading, setReading] = useState<Reading>(stands);
  const { data: view, error } = shown(useArrival(job, list, reading));
  const [apart, setApart] = useState(false);
  const [order, setOrder] = useState<number[] | null>(null);
  const take = useTake(job);
  const discard = useDiscard(job);
  if (error) return <p className="p-4 text-error">{error.message}</p>;
  if (!view) return <p className="p-4 quiet text-xs">Reading…</p>;
  const arrived = view.state === 'arrived';
  const set = (part: Reading) => setReading({ ...reading, ...part });
  const takeAs = (as: 'cut' | 'beside') => take.mutate({ list, reading, as, apart, order }, { onSuccess: onDone });
  const nothing = view.figures.events === 0;
  const asks = view.ratesAgainst.length > 0 && !reading.rate;
  return (
    <section aria-label="Before import" className="grow min-h-0 grid grid-cols-[minmax(30rem,1fr)_minmax(24rem,1fr)]">
      <div className="overflow-y-auto px-4 py-3 flex flex-col gap-4 border-r border-base-300">
        <div>
          <h2 className="font-medium">{arrived ? 'A list has arrived' : 'Change how the cut is read'}</h2>
          <p className="quiet text-xs">
            {arrived
              ? 'Check the list before you import it. Your settings override what the list says; the file itself is not changed.'
              : 'Your decisions are kept; the list is read again from the delivered file.'}
          </p>
        </div>
        <Files view={view} order={order} apart={apart} onOrder={setOrder} onApart={setApart} />
        <Settings view={view} reading={reading} onSet={set} />
        {view.columns && (
          <Columns columns={view.columns} mapping={reading.columns ?? view.columns.mapping} onMap={(columns) => set({ columns })} />
        )}
        {!nothing && <Effect view={view} />}
        <div className="flex gap-2 items-center">
          <button
            type="button"
            className="btn btn-sm btn-primary"
            disabled={nothing || asks || take.isPending}
            onClick={() => takeAs('cut')}
          >
            {!arrived ? 'Apply this reading' : hasCut ? 'Import as the new cut' : 'Import'}
          </button>
          {arrived && hasCut && (
            <button type="button" className="btn btn-sm" disabled={nothing || asks || take.isPending} onClick={() => takeAs('beside')}>
              Import for comparison
            </button>
          )}
          {arrived ? (
            <button type="button" className="btn btn-sm btn-ghost" onClick={() => discard.mutate(list, { onSuccess: onDone })}>
              Discard
            </button>
          ) : (
            <button type="button" className="btn btn-sm btn-ghost" onClick={onDone}>
              Cancel
            </button>
          )}
          {asks && !nothing && (
            <span className="text-xs text-warning">
              Set the frame rate first. The list does not state it, and no original runs at {view.unset.rate}: they run at{' '}
              {view.ratesAgainst.join(', ')}.
            </span>
          )}
          {nothing && <span className="text-xs text-warning">It holds no event that could be read.</span>}
        </div>
      </div>
      <div className="overflow-y-auto px-4 py-3 flex flex-col gap-4">
        {!nothing && <Checks checks={view.checks} />}
        <Report view={view} />
      </div>
    </section>
  );
}

function Files({
  view,
  order,
  apart,
  onOrder,
  onApart,
}: {
  view: ArrivalView;
  order: number[] | null;
  apart: boolean;
  onOrder: (order: number[]) => void;
  onApart: (apart: boolean) => void;
}) {
  const places = order ?? view.files.map((_, i) => i);
  const several = view.files.length > 1;
  const swap = (at: number) => {
    const next = [...places];
    [next[at], next[at - 1]] = [next[at - 1] as number, next[at] as number];
    onOrder(next);
  };
  return (
    <div className="text-xs flex flex-col gap-1">
      <ol>
        {places.map((place, at) => {
          const file = view.files[place];
          return (
            file && (
              <li key={place} className="flex gap-3 py-0.5 items-baseline">
                {several && !apart && <span className="tc quiet w-6">{at + 1}</span>}
                <span className="font-medium">{file.fileName}</span>
                <span className="quiet">{file.format ?? 'no known format'}</span>
                <span className="quiet tc">{sizeText(file.bytes)}</span>
                {several && !apart && at > 0 && view.state === 'arrived' && (
                  <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={() => swap(at)}>
                    Lower
                  </button>
                )}
              </li>
            )
          );
        })}
      </ol>
      {several && view.state === 'arrived' && (
        <fieldset className="flex gap-4">
          <label className="flex gap-1 items-center">
            <input type="radio" name="apart" className="radio radio-xs" checked={!apart} onChange={() => onApart(false)} />
            layers of one cut, the lowest first
          </label>
          <label className="flex gap-1 items-center">
            <input type="radio" name="apart" className="radio radio-xs" checked={apart} onChange={() => onApart(true)} />
            lists of their own
          </label>
        </fieldset>
      )}
    </div>
  );
}

function Settings({ view, reading, onSet }: { view: ArrivalView; reading: Reading; onSet: (part: Reading) => void }) {
  const [raster, setRaster] = useState(reading.raster ?? '');
  const rates = reading.rate && !RATES.includes(reading.rate) ? [reading.rate, ...RATES] : RATES;
  const said = view.unset.rateStated ? `as the list says: ${view.unset.rate}` : `assumed: ${view.unset.rate}`;
  return (
    <div className="grid grid-cols-[6rem_1fr] gap-x-3 gap-y-2 items-center text-xs">
      {view.sequences.length > 1 && (
        <>
          <label htmlFor="arrival-sequence">Which cut</label>
          <select
            id="arrival-sequence"
            className="select select-xs w-72"
            value={reading.sequence ?? 0}
            disabled={view.state !== 'arrived'}
            onChange={(e) => onSet({ sequence: Number(e.target.value) })}
          >
            {view.sequences.map((s, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: cuts are told apart by their place in the file alone
              <option key={i} value={i}>
                {`${s.name || 'without a name'}: ${s.durationFrames} frames, ${s.events} events`}
              </option>
            ))}
          </select>
        </>
      )}
      <label htmlFor="arrival-rate">Frame rate</label>
      <select
        id="arrival-rate"
        className="select select-xs w-52 tc"
        value={reading.rate ?? ''}
        onChange={(e) => onSet({ rate: e.target.value || null })}
      >
        <option value="">{said}</option>
        {rates.map((r) => (
          <option key={r}>{r}</option>
        ))}
      </select>
      <label htmlFor="arrival-raster">Raster</label>
      <form
        className="flex gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          onSet({ raster: raster.trim() || null });
        }}
      >
        <input
          id="arrival-raster"
          className="input input-xs w-36 tc"
          placeholder={view.unset.raster ?? 'not stated'}
          value={raster}
          onChange={(e) => setRaster(e.target.value)}
          onBlur={() => /^(\d{2,5}[x×]\d{2,5})?$/.test(raster.trim()) && onSet({ raster: raster.trim() || null })}
        />
        <span className="quiet self-center">width×height, where the finish differs from the offline</span>
      </form>
    </div>
  );
}

const ROWS: readonly [string, (f: ListFigures) => string | number][] = [
  ['Rate', (f) => f.rate],
  ['Starts at', (f) => f.start],
  ['Frames', (f) => f.durationFrames],
  ['Events', (f) => f.events],
  ['Layers', (f) => f.layers],
  ['Sound tracks', (f) => f.soundTracks],
  ['Raster', (f) => f.raster ?? '–'],
  ['Impossible timecodes', (f) => f.impossible],
];

/** The list in figures, as it says and as set here. */
function Effect({ view }: { view: ArrivalView }) {
  const changed = ROWS.some(([, figure]) => figure(view.before) !== figure(view.figures)) || view.moved > 0;
  return (
    <div>
      <table className="text-xs" aria-label="What the settings change">
        <thead>
          <tr className="quiet text-left">
            <th className="font-normal w-40 pb-1">{view.figures.title}</th>
            <th className="font-normal w-32">{view.state === 'arrived' ? 'as it says' : 'now'}</th>
            {changed && <th className="font-normal w-32">as set here</th>}
          </tr>
        </thead>
        <tbody>
          {ROWS.map(([name, figure]) => {
            const [before, after] = [figure(view.before), figure(view.figures)];
            return (
              <tr key={name}>
                <td className="quiet py-px">{name}</td>
                <td className="tc">{before}</td>
                {changed && <td className={`tc ${before === after ? 'quiet' : 'font-medium'}`}>{before === after ? '=' : after}</td>}
              </tr>
            );
          })}
        </tbody>
      </table>
      {view.moved > 0 && (
        <p className="text-xs mt-1">
          {view.moved} of {view.figures.events} events would name other frames, at their source or on the record.
        </p>
      )}
    </div>
  );
}

/** What the reading says, the gravest first, with the line of the file it speaks of. */
function Report({ view }: { view: ArrivalView }) {
  const total = Object.values(view.figures.counts).reduce((sum, n) => sum + n, 0);
  return (
    <div>
      <h3 className="text-xs font-medium mb-1 flex gap-3">
        What would come across <Severities counts={view.figures.counts} />
      </h3>
      <ul className="text-xs">
        {view.notices.map((n, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: notices have no identity and never move
          <li key={i} className="py-1 border-t border-base-300">
            <span className={n.severity === 'kept' ? 'quiet' : 'text-warning'}>{n.severity}</span>{' '}
            {n.line !== null && (
              <span className="tc quiet">
                {view.files.length > 1 ? `${n.fileName} ` : ''}line {n.line}
              </span>
            )}{' '}
            {n.message}
            {n.text !== null && (
              <pre className="text-xs bg-base-200 px-2 py-0.5 mt-0.5 overflow-x-auto font-mono whitespace-pre">{n.text || ' '}</pre>
            )}
          </li>
        ))}
      </ul>
      {total > view.notices.length && (
        <p className="quiet text-xs pt-1">{total - view.notices.length} more are in the report once it is imported.</p>
      )}
    </div>
  );
}
