import { PAIR_STATES } from '@gemello/core/pairing';
import { plural } from '@gemello/core/words';
import type { LedgerRow, VolumeView } from '../../../contract';
import { isUnsettled } from '../../data/events';
import { Glyph } from '../../parts/Glyph';
import { NO_PAIR_FILTER, type PairFilter, valuesOf } from './filter';

interface Props {
  readonly rows: readonly LedgerRow[];
  readonly shown: number;
  readonly volumes: readonly VolumeView[];
  readonly filter: PairFilter;
  readonly onFilter: (filter: PairFilter) => void;
}

/**
 * Which events the ledger shows: by state, by whether they need somebody, by reel, layer and volume. Those by state stay in their places
 * whatever becomes of the events, so that none moves away under the pointer.
 */
export function Filters({ rows, shown, volumes, filter, onFilter }: Props) {
  const button = (state: PairFilter['state'], label: React.ReactNode, count?: number) => (
    <button
      key={state}
      type="button"
      aria-pressed={filter.state === state}
      disabled={count === 0 && filter.state !== state}
      className={`btn btn-xs px-1.5 ${filter.state === state ? 'btn-primary' : 'btn-ghost'}`}
      onClick={() => onFilter({ ...filter, only: null, state: filter.state === state ? '' : state })}
    >
      {label}
    </button>
  );
  const choice = (name: 'reel' | 'layer' | 'volume', label: string, values: readonly string[]) =>
    values.length > 1 && (
      <select
        className="select select-xs w-auto max-w-32 pe-7"
        aria-label={label}
        value={filter[name]}
        onChange={(e) => onFilter({ ...filter, only: null, [name]: e.target.value })}
      >
        <option value="">{`every ${name}`}</option>
        {values.map((v) => (
          <option key={v}>{v}</option>
        ))}
      </select>
    );
  const scaled = rows.filter((r) => r.scaled !== null).length;
  const counted = (count: number) => (
    <span className="tabular-nums text-end" style={{ minWidth: `${String(rows.length).length}ch` }}>
      {count}
    </span>
  );
  const needed = rows.filter(isUnsettled).length;
  return (
    <>
      {button('', `all ${rows.length}`)}
      {button('needs-me', <>{counted(needed)} open</>, needed)}
      {PAIR_STATES.map((s) => {
        const count = rows.filter((r) => r.state === s).length;
        return button(
          s,
          <>
            <Glyph state={s} size={20} />
            {counted(count)} {s}
          </>,
          count,
        );
      })}
      {scaled > 0 && scaled < rows.length && button('scaled', `${scaled} scaled`)}
      {choice(
        'reel',
        'Reel',
        valuesOf(rows, (r) => r.reel),
      )}
      {choice(
        'layer',
        'Layer',
        valuesOf(rows, (r) => r.track),
      )}
      {choice(
        'volume',
        'Volume',
        volumes.map((v) => v.name),
      )}
      <select
        className="select select-xs w-auto pe-7"
        aria-label="Group by"
        value={filter.group}
        onChange={(e) => onFilter({ ...filter, group: e.target.value as PairFilter['group'] })}
      >
        <option value="">in cut order</option>
        <option value="reel">by reel</option>
        <option value="source">by source</option>
      </select>
      {filter.only && <span className="quiet">{`${plural(filter.only.length, 'event')} of one cause`}</span>}
      {shown < rows.length && (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => onFilter({ ...NO_PAIR_FILTER, group: filter.group })}>
          {`Show all; ${shown} shown`}
        </button>
      )}
    </>
  );
}
