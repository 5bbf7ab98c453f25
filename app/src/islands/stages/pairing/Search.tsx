import { plural } from '@gemello/core/words';
import { group } from 'd3';
import type { LedgerRow, SearchResult } from '../../../contract';
import { useSearch } from '../../data/pairing';
import { useAddVolume, useStart } from '../../data/queries';
import { isOpen } from '../../data/tasks';
import { PathForm } from '../../parts/PathForm';
import { TaskLine } from '../../parts/TaskLine';

const BY: Record<SearchResult['finds'][number]['by'], string> = {
  name: 'by its name',
  timecode: 'by reel and timecode',
  content: 'by its content',
  size: 'by its size, timecode and length',
};

interface Props {
  readonly job: string;
  readonly rows: readonly LedgerRow[];
  readonly onShow: (events: readonly string[]) => void;
  readonly onDone: () => void;
}

/** Looks through a folder or a drive that was never scanned for what is offline; what is found leads to the folder that is to be added. */
export function Search({ job, rows, onShow, onDone }: Props) {
  const { data: search, refetch } = useSearch(job);
  const start = useStart(job);
  const result = search?.result ?? null;
  const running = search && isOpen(search.task);
  return (
    <section aria-label="Search for what is offline" className="px-3 py-2 border-b border-base-300 bg-base-200 text-xs space-y-2">
      <div className="flex flex-wrap gap-2 items-center">
        <PathForm
          className="grow max-w-xl"
          label="Folder or drive to look through"
          placeholder="folder or drive to look through"
          verb="Search"
          pending={start.isPending || Boolean(running)}
          onPath={(folder) => start.mutate({ kind: 'search', folder }, { onSuccess: () => refetch() })}
        />
        {running ? (
          <TaskLine job={job} task={search.task} />
        ) : (
          <span className="quiet">
            {search ? search.task.message : 'By name first, then by timecode and content. Nothing is imported.'}
          </span>
        )}
        <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={onDone}>
          Close
        </button>
      </div>
      {result && result.finds.length > 0 && <Folders job={job} result={result} rows={rows} onShow={onShow} />}
    </section>
  );
}

/** What was found, by the folder it lies in: adding the folder as a volume brings it in. */
function Folders({
  job,
  result,
  rows,
  onShow,
}: {
  job: string;
  result: SearchResult;
  rows: readonly LedgerRow[];
  onShow: Props['onShow'];
}) {
  const add = useAddVolume(job);
  const numbers = new Map(rows.map((r) => [r.id, r.number || r.recordIn]));
  const folders = group(result.finds, (f) => f.path.slice(0, f.path.lastIndexOf('/')));
  return (
    <ul className="max-h-48 overflow-y-auto space-y-1">
      {[...folders].map(([folder, finds]) => (
        <li key={folder}>
          <p className="flex flex-wrap gap-2 items-baseline">
            <span className="tc break-all">{folder}</span>
            <span className="quiet">{plural(finds.length, 'file')}</span>
            <button type="button" className="btn btn-xs btn-primary" disabled={add.isPending} onClick={() => add.mutate(folder)}>
              Add as a volume
            </button>
            <button type="button" className="btn btn-xs btn-ghost" onClick={() => onShow(finds.flatMap((f) => f.events))}>
              Show the events
            </button>
          </p>
          <ul className="pl-4">
            {finds.map((f) => (
              <li key={f.path} className="flex gap-2">
                <span>{f.path.slice(folder.length + 1)}</span>
                <span className="quiet">{`${BY[f.by]}, for ${f.events.map((e) => numbers.get(e) ?? '').join(', ')}`}</span>
              </li>
            ))}
          </ul>
        </li>
      ))}
    </ul>
  );
}
