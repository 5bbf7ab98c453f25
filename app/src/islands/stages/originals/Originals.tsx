import { useMemo, useState } from 'react';
import type { OriginalFilter } from '../../../contract';
import { useFilters, useForgetFilter, useOriginals, useSaveFilter } from '../../data/queries';
import { emptiedOf } from '../../data/sent';
import type { StageProps } from '../stage';
import { Bulk } from './Bulk';
import { Clip } from './Clip';
import { Facets } from './Facets';
import { filtered, NO_FILTER } from './filter';
import { Reels } from './Reels';
import { ClipTable } from './Table';
import { Volumes } from './Volumes';

/** Volumes, and every clip found on them: as a table, or reel by reel. */
export function Originals({ job, view }: StageProps) {
  const { data: originals } = useOriginals(job);
  const [filter, setFilter] = useState<OriginalFilter>(NO_FILTER);
  const [chosen, setChosen] = useState<string | null>(null);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [browsing, setBrowsing] = useState(false);
  const [as, setAs] = useState<'clips' | 'reels'>('clips');
  const shown = useMemo(() => filtered(originals ?? [], filter), [originals, filter]);
  const inHand = useMemo(() => shown.filter((o) => selected.has(o.path)), [shown, selected]);
  return (
    <div className="h-full flex flex-col min-h-0 max-[900px]:overflow-y-auto">
      <Volumes job={job} volumes={view.volumes} browsing={browsing} onBrowse={setBrowsing} />
      {view.volumes.length === 0 && !browsing && (
        <div className="grow grid place-items-center">
          <div className="max-w-md text-center">
            <p className="text-base font-medium mb-2">No originals yet</p>
            <p className="quiet text-sm mb-3">Add the folder that holds the camera cards. Originals are only ever read.</p>
            <button type="button" className="btn btn-sm btn-primary" onClick={() => setBrowsing(true)}>
              Find the folder
            </button>
          </div>
        </div>
      )}
      {originals?.length === 0 && view.volumes.length > 0 && (
        <p className="grow grid place-items-center text-sm quiet">
          No originals were found on these volumes. Scan them again, or add another above.
        </p>
      )}
      {originals && originals.length > 0 && (
        <div
          className={`grow min-h-0 max-[900px]:min-h-96 max-[900px]:shrink-0 max-[900px]:h-96 grid ${chosen ? 'grid-cols-[11.5rem_minmax(0,1fr)_21rem]' : 'grid-cols-[11.5rem_minmax(0,1fr)]'}`}
        >
          <Facets originals={originals} filter={filter} onFilter={setFilter} />
          <div className="flex flex-col min-h-0 min-w-0 border-x border-base-300">
            <div className="flex gap-2 items-center px-3 py-1.5 border-b border-base-300 text-xs">
              <input
                className="input input-xs w-64"
                aria-label="Filter originals"
                placeholder="name, reel, codec, warning, tag, note"
                value={filter.words}
                onChange={(e) => setFilter({ ...filter, words: e.target.value })}
              />
              <SavedFilters job={job} filter={filter} onFilter={setFilter} />
              <span className="quiet ml-auto">
                {shown.length} of {originals.length} clips
              </span>
              <fieldset className="join" aria-label="Show as">
                {(['clips', 'reels'] as const).map((what) => (
                  <button
                    key={what}
                    type="button"
                    aria-pressed={as === what}
                    className={`btn btn-xs join-item ${as === what ? 'btn-primary' : ''}`}
                    onClick={() => setAs(what)}
                  >
                    {what}
                  </button>
                ))}
              </fieldset>
            </div>
            {as === 'clips' ? (
              <ClipTable
                job={job}
                originals={shown}
                chosen={chosen}
                onChoose={setChosen}
                selected={selected}
                onSelect={setSelected}
                narrow={chosen !== null}
              />
            ) : (
              <Reels originals={shown} chosen={chosen} onChoose={setChosen} />
            )}
            {/* Below, so that no row moves while clips are selected. */}
            {inHand.length > 0 && <Bulk job={job} clips={inHand} onDone={() => setSelected(new Set())} />}
          </div>
          {chosen && <Clip key={chosen} job={job} path={chosen} onClose={() => setChosen(null)} onChoose={setChosen} />}
        </div>
      )}
    </div>
  );
}

function SavedFilters({ job, filter, onFilter }: { job: string; filter: OriginalFilter; onFilter: (filter: OriginalFilter) => void }) {
  const { data: saved = [] } = useFilters(job);
  const save = useSaveFilter(job);
  const forget = useForgetFilter(job);
  const [name, setName] = useState('');
  const same = saved.find((f) => JSON.stringify(f.data) === JSON.stringify(filter));
  const empty = filter.words === '' && Object.values(filter.facets).every((v) => !v || v.length === 0);
  return (
    <>
      {saved.length > 0 && (
        <select
          className="select select-xs w-36"
          aria-label="Saved filters"
          value={same?.name ?? ''}
          onChange={(e) => onFilter(saved.find((f) => f.name === e.target.value)?.data ?? NO_FILTER)}
        >
          <option value="">saved filters</option>
          {saved.map((f) => (
            <option key={f.name}>{f.name}</option>
          ))}
        </select>
      )}
      {!empty && !same && (
        <form
          className="flex gap-1"
          onSubmit={(e) => {
            e.preventDefault();
            save.mutate({ name, data: filter }, { onSuccess: () => setName(emptiedOf(name)) });
          }}
        >
          <input
            className="input input-xs w-28"
            aria-label="Name for this filter"
            placeholder="save filter as"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <button type="submit" className="btn btn-xs" disabled={name.trim() === ''}>
            Save filter
          </button>
        </form>
      )}
      {same && (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => forget.mutate(same.name)}>
          Remove filter “{same.name}”
        </button>
      )}
      {!empty && (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => onFilter(NO_FILTER)}>
          Show all
        </button>
      )}
    </>
  );
}
