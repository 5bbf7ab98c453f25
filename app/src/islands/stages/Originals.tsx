import { formatRate } from '@gemello/core/time';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, useState } from 'react';
import type { OriginalView, VolumeView } from '../../contract';
import { useAddVolume, useOriginals, useRemoveVolume, useStart } from '../data/queries';
import { useView } from '../data/view';
import { Empty } from '../parts/Empty';
import { Picture } from '../parts/Picture';
import type { StageProps } from './stage';

const ROW = 46;
const COLUMNS = 'grid-cols-[74px_minmax(11rem,1.6fr)_4.5rem_7rem_7rem_4rem_5.5rem_6rem_6rem_minmax(5rem,1fr)]';

/** Volumes, and every clip found on them. */
export function Originals({ job, view }: StageProps) {
  const { data: originals = [] } = useOriginals(job);
  const [filter, setFilter] = useState('');
  const [only, setOnly] = useState<'all' | 'warned' | 'unused' | 'away'>('all');
  const [chosen, setChosen] = useState<string | null>(null);
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = originals.filter((o) => {
    if (only === 'warned' && o.warnings.length === 0) return false;
    if (only === 'unused' && o.usedBy.length > 0) return false;
    if (only === 'away' && o.here) return false;
    const text = [o.clipName, o.fileName, o.reel, o.codec, o.volume, o.timecodeIn ?? '', ...o.warnings.map((w) => w.message)]
      .join(' ')
      .toLowerCase();
    return words.every((w) => text.includes(w));
  });
  const clip = shown.find((o) => o.path === chosen) ?? null;
  return (
    <div className="h-full flex flex-col min-h-0">
      <Volumes job={job} volumes={view.volumes} />
      {originals.length === 0 ? (
        <Empty title="No originals yet">Point at the folder that holds the camera cards. It is only ever read.</Empty>
      ) : (
        <>
          <div className="flex gap-2 items-center px-4 py-2 border-b border-base-300 text-xs">
            <input
              className="input input-xs w-72"
              aria-label="Filter originals"
              placeholder="name, reel, codec, volume, warning"
              value={filter}
              onChange={(e) => setFilter(e.target.value)}
            />
            {(['all', 'warned', 'unused', 'away'] as const).map((o) => (
              <button
                key={o}
                type="button"
                aria-pressed={only === o}
                className={`btn btn-xs ${only === o ? 'btn-primary' : 'btn-ghost'}`}
                onClick={() => setOnly(o)}
              >
                {{ all: 'all', warned: 'with warnings', unused: 'not in the cut', away: 'away' }[o]}
              </button>
            ))}
            <span className="quiet ml-auto">
              {shown.length} of {originals.length} clips
            </span>
          </div>
          <Table job={job} originals={shown} chosen={chosen} onChoose={setChosen} />
          {clip && <Detail clip={clip} />}
        </>
      )}
    </div>
  );
}

const clips = (n: number) => `${n} ${n === 1 ? 'clip' : 'clips'}`;

function Volumes({ job, volumes }: { job: string; volumes: readonly VolumeView[] }) {
  const add = useAddVolume(job);
  const remove = useRemoveVolume(job);
  const scan = useStart(job);
  const [path, setPath] = useState('');
  return (
    <section aria-label="Volumes" className="px-4 py-3 border-b border-base-300 flex flex-wrap gap-2 items-center">
      {volumes.map((v) => (
        <div key={v.id} className="flex items-center gap-2 bg-base-200 pl-3 pr-1 py-1 text-xs" title={v.path}>
          <span className="font-medium">{v.name}</span>
          <span className={v.here ? 'quiet' : ''} style={v.here ? undefined : { color: 'var(--state-away)' }}>
            {v.here ? clips(v.originals) : `not here; ${clips(v.originals)} known`}
          </span>
          <button type="button" className="btn btn-xs btn-ghost px-1" onClick={() => scan.mutate({ kind: 'scan', volumes: [v.id] })}>
            Scan
          </button>
          <button
            type="button"
            className="btn btn-xs btn-ghost px-1"
            onClick={() => remove.mutate(v.id)}
            aria-label={`Forget volume ${v.name}`}
          >
            Forget
          </button>
        </div>
      ))}
      <form
        className="flex gap-1 grow max-w-xl"
        onSubmit={(e) => {
          e.preventDefault();
          add.mutate(path, { onSuccess: () => setPath('') });
        }}
      >
        <input
          className="input input-xs grow tc"
          aria-label="Path of a volume"
          placeholder="path of a folder with originals"
          value={path}
          onChange={(e) => setPath(e.target.value)}
        />
        <button type="submit" className="btn btn-xs btn-primary" disabled={path.trim() === '' || add.isPending}>
          Add volume
        </button>
      </form>
    </section>
  );
}

function Table({
  job,
  originals,
  chosen,
  onChoose,
}: {
  job: string;
  originals: readonly OriginalView[];
  chosen: string | null;
  onChoose: (path: string) => void;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: originals.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 6,
  });
  return (
    <div ref={scroller} className="grow overflow-y-auto min-h-0" data-testid="originals">
      <div className={`grid ${COLUMNS} gap-x-3 px-4 py-1 text-xs quiet sticky top-0 bg-base-100 z-10`}>
        {['', 'Clip and file', 'Reel', 'Timecode in', 'Timecode out', 'Frames', 'Rate', 'Raster', 'Codec', 'Used by'].map((h) => (
          <span key={h}>{h}</span>
        ))}
      </div>
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const o = originals[index];
          if (!o) return null;
          return (
            <button
              type="button"
              key={o.path}
              style={{ position: 'absolute', top: start, height: ROW }}
              onClick={() => onChoose(o.path)}
              className={`grid ${COLUMNS} gap-x-3 px-4 items-center w-full text-left text-xs border-b border-base-300 ${o.path === chosen ? 'bg-base-300' : 'hover:bg-base-200'} ${o.here ? '' : 'opacity-70'}`}
            >
              <Picture
                job={job}
                side="original"
                path={o.path}
                frame={Math.floor(o.frames / 2)}
                width={148}
                look={`${o.frames}`}
                alt=""
                empty="away"
                className="w-[68px]"
              />
              <span className="min-w-0 leading-tight">
                <span className="block truncate font-medium">{o.clipName}</span>
                <span className="block truncate quiet">
                  {o.volume} / {o.fileName}
                </span>
              </span>
              <span className="tc">{o.reel || '–'}</span>
              <span className="tc">{o.timecodeIn ?? 'none'}</span>
              <span className="tc">{o.timecodeOut ?? ''}</span>
              <span className="tc">{o.frames}</span>
              <span className="tc">{o.kind === 'still' ? 'still' : formatRate(o.rate)}</span>
              <span className="tc">
                {o.raster.width}×{o.raster.height}
              </span>
              <span>{o.codec}</span>
              <span className="min-w-0">
                <span className="tc block truncate">{o.usedBy.map((u) => u.number).join(' ')}</span>
                {o.warnings.length > 0 && (
                  <span className="text-warning block truncate">{`${o.warnings.length} ${o.warnings.length === 1 ? 'warning' : 'warnings'}`}</span>
                )}
              </span>
            </button>
          );
        })}
      </div>
    </div>
  );
}

function Detail({ clip }: { clip: OriginalView }) {
  const { choose, go } = useView();
  return (
    <section aria-label="The chosen clip" className="border-t border-base-300 bg-base-200 px-4 py-2 text-xs space-y-1">
      <p className="tc break-all">{clip.path}</p>
      {clip.warnings.map((w) => (
        <p key={w.message} className="text-warning">
          {w.message}
        </p>
      ))}
      {clip.sidecars.length > 0 && <p>Beside it: {clip.sidecars.join(', ')}</p>}
      {clip.usedBy.length > 0 && (
        <p className="flex gap-2 items-center">
          <span className="quiet">Go to event</span>
          {clip.usedBy.map((u) => (
            <button
              key={u.id}
              type="button"
              className="btn btn-xs tc"
              onClick={() => {
                choose(u.id, useView.getState().frame ?? 0);
                go('pairing');
              }}
            >
              {u.number}
            </button>
          ))}
        </p>
      )}
    </section>
  );
}
