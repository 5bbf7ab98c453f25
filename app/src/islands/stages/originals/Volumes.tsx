import { plural } from '@gemello/core/words';
import { useState } from 'react';
import type { VolumeView } from '../../../contract';
import { useAddVolume, useFolders, useRehome, useRemoveVolume, useRenameVolume, useStart } from '../../data/queries';
import { emptiedOf } from '../../data/sent';
import { FilesInTrouble } from '../../parts/FilesInTrouble';
import { Logs } from './Logs';

const clips = (n: number) => plural(n, 'clip');

/** The folders that hold the media, which of them are here, and how to add another. */
export function Volumes({
  job,
  volumes,
  browsing,
  onBrowse,
}: {
  job: string;
  volumes: readonly VolumeView[];
  browsing: boolean;
  onBrowse: (browsing: boolean) => void;
}) {
  const add = useAddVolume(job);
  const [path, setPath] = useState('');
  const [logs, setLogs] = useState(false);
  return (
    <>
      <section aria-label="Volumes" className="px-3 py-2 border-b border-base-300 flex flex-wrap gap-2 items-center">
        {volumes.map((v) => (
          <Volume key={v.id} job={job} volume={v} />
        ))}
        <form
          className="flex gap-1 grow max-w-xl"
          onSubmit={(e) => {
            e.preventDefault();
            // What was typed meanwhile stays.
            add.mutate(path, { onSuccess: () => setPath(emptiedOf(path)) });
          }}
        >
          <input
            className="input input-xs grow tc"
            aria-label="Path of a volume"
            placeholder="path of a folder with originals"
            value={path}
            onChange={(e) => setPath(e.target.value)}
          />
          <button type="button" className="btn btn-xs" aria-expanded={browsing} onClick={() => onBrowse(!browsing)}>
            Browse
          </button>
          <button type="submit" className="btn btn-xs btn-primary" disabled={path.trim() === '' || add.isPending}>
            Add volume
          </button>
        </form>
        {volumes.length > 0 && (
          <button type="button" className="btn btn-xs" aria-expanded={logs} onClick={() => setLogs(!logs)}>
            Clip logs
          </button>
        )}
        {browsing && <Folders start={path || null} onTake={setPath} />}
      </section>
      {logs && <Logs job={job} onDone={() => setLogs(false)} />}
    </>
  );
}

function Volume({ job, volume: v }: { job: string; volume: VolumeView }) {
  const remove = useRemoveVolume(job);
  const scan = useStart(job);
  const rename = useRenameVolume(job);
  const rehome = useRehome(job);
  const [naming, setNaming] = useState<string | null>(null);
  return (
    <div className="flex items-center gap-2 bg-base-200 pl-3 pr-1 py-1 text-xs" title={v.path}>
      {naming === null ? (
        <button
          type="button"
          className="font-medium hover:underline"
          title={`${v.path}, click to rename`}
          onClick={() => setNaming(v.name)}
        >
          {v.name}
        </button>
      ) : (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            rename.mutate({ id: v.id, name: naming }, { onSuccess: () => setNaming(null) });
          }}
        >
          <input
            className="input input-xs w-28"
            aria-label={`New name for ${v.name}`}
            value={naming}
            onChange={(e) => setNaming(e.target.value)}
          />
        </form>
      )}
      <span className={v.here ? 'quiet' : ''} style={v.here ? undefined : { color: 'var(--state-away)' }}>
        {v.here ? clips(v.originals) : `${v.is === 'silent' ? 'not answering' : 'not here'}; ${clips(v.originals)} known`}
      </span>
      <FilesInTrouble
        opens="over"
        what="missing"
        why="A hash manifest on it names these, and they are not there. Was the card copied whole?"
        files={v.missing.map((file) => ({ path: file.slice(v.path.length + 1), message: '' }))}
      />
      <FilesInTrouble
        opens="over"
        what="unreadable"
        why="These files were found but could not be read. Everything else was imported."
        files={v.unread.map(({ path, message }) => ({ path: path.slice(v.path.length + 1), message }))}
      />
      {v.resembles && (
        <button
          type="button"
          className="btn btn-xs btn-primary"
          onClick={() => v.resembles && rehome.mutate({ id: v.id, as: v.resembles.id })}
        >
          This is {v.resembles.name} at a new path
        </button>
      )}
      <button type="button" className="btn btn-xs btn-ghost px-1" onClick={() => scan.mutate({ kind: 'scan', volumes: [v.id] })}>
        Scan
      </button>
      <button
        type="button"
        className="btn btn-xs btn-ghost px-1"
        onClick={() => remove.mutate(v.id)}
        aria-label={`Remove volume ${v.name}`}
      >
        Remove volume
      </button>
    </div>
  );
}

/** The folders of the server's machine, one level at a time. */
function Folders({ start, onTake }: { start: string | null; onTake: (path: string) => void }) {
  const [at, setAt] = useState(start);
  const { data, error } = useFolders(at);
  return (
    <div className="w-full bg-base-200 p-2 text-xs max-h-48 overflow-y-auto">
      {error && (
        <p className="text-error">
          {error.message}{' '}
          <button type="button" className="btn btn-xs" onClick={() => setAt(null)}>
            Go to the top
          </button>
        </p>
      )}
      {data && (
        <>
          <p className="flex gap-2 items-center mb-1">
            <span className="tc">{data.path || 'Allowed folders'}</span>
            {data.parent !== null && (
              <button type="button" className="btn btn-xs" onClick={() => setAt(data.parent || null)}>
                Up
              </button>
            )}
            {data.path && (
              <button type="button" className="btn btn-xs btn-primary" onClick={() => onTake(data.path)}>
                Choose this folder
              </button>
            )}
          </p>
          {data.folders.length === 0 && <p className="quiet">No folders in here.</p>}
          <ul className="columns-3">
            {data.folders.map((f) => (
              <li key={f}>
                <button type="button" className="hover:underline tc text-left" onClick={() => setAt(f)}>
                  {data.path ? f.split('/').pop() : f}
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
