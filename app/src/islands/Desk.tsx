import { plural } from '@gemello/core/words';
import { QueryClientProvider } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useDeferredValue, useRef, useState } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { Toaster, toast } from 'sonner';
import { DESK_PAGE, type DeskView, type JobSummary, type WhichJobs } from '../contract';
import { client } from './data/client';
import { type JobsAsked, undoable, useChangeJob, useDesk, useDeskPages, useNewJob } from './data/queries';
import { Broken } from './parts/Broken';
import { Glyph } from './parts/Glyph';
import { SmallRibbon } from './parts/Ribbon';
import { day, moment } from './parts/times';

/** What is on the desk. */
export function Desk() {
  return (
    <QueryClientProvider client={client}>
      <ErrorBoundary FallbackComponent={Broken}>
        <Jobs />
      </ErrorBoundary>
      <Toaster theme="dark" position="bottom-right" />
    </QueryClientProvider>
  );
}

function Jobs() {
  const [words, setWords] = useState('');
  const [which, setWhich] = useState<WhichJobs>('desk');
  const asked = { words: useDeferredValue(words.trim()), which };
  const { data: desk, error } = useDesk(asked);
  return (
    <main className="h-full flex flex-col">
      <div className="w-full max-w-5xl mx-auto px-6 pt-8 pb-4 grid gap-x-8 gap-y-4 sm:grid-cols-[auto_1fr]">
        <header className="flex items-center gap-3">
          <img src="/icon.svg" alt="" width={38} />
          <div>
            <h1 className="text-xl font-semibold leading-none">Gemello</h1>
            <p className="quiet mt-1">Every event of a cut has a twin among the camera originals.</p>
          </div>
        </header>
        <NewJob />
      </div>
      <div className="w-full max-w-5xl mx-auto px-6 pb-2 flex items-baseline gap-3">
        <h2 className="font-medium">{desk ? manyOf(desk, which) : which === 'desk' ? 'Jobs' : 'Deleted jobs'}</h2>
        {which === 'deleted' && (
          <button type="button" className="btn btn-xs btn-ghost" onClick={() => setWhich('desk')}>
            Back to the desk
          </button>
        )}
        {which === 'desk' && (desk?.deleted ?? 0) > 0 && (
          <button type="button" className="btn btn-xs btn-ghost" onClick={() => setWhich('deleted')}>
            {`Show ${desk?.deleted} deleted`}
          </button>
        )}
        {(desk?.all ?? 0) > 1 && (
          <input
            type="search"
            className="input input-sm w-64 ml-auto"
            aria-label="Find a job"
            placeholder="Find a job by its name or its cut"
            maxLength={200}
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        )}
      </div>
      {error && <p className="text-error w-full max-w-5xl mx-auto px-6">{error.message}</p>}
      {desk?.all === 0 && (
        <p className="quiet w-full max-w-5xl mx-auto px-6">
          {which === 'desk'
            ? 'There is no job here. Name one above and start it; then import its edit list and its reference.'
            : 'No deleted job is left.'}
        </p>
      )}
      {desk?.found === 0 && desk.all > 0 && <p className="quiet w-full max-w-5xl mx-auto px-6">No job has this in its name or its cut.</p>}
      {desk && <List key={`${which} ${asked.words}`} asked={asked} first={desk} />}
    </main>
  );
}

const manyOf = ({ found, all }: DeskView, which: WhichJobs): string => {
  const jobs = plural(all, which === 'desk' ? 'job' : 'deleted job');
  return found < all ? `${found} of ${jobs}` : jobs;
};

function NewJob() {
  const create = useNewJob();
  const [title, setTitle] = useState('');
  const start = (e: React.FormEvent) => {
    e.preventDefault();
    create.mutate(title, { onSuccess: ({ id }) => location.assign(`/job/${id}/turnover`) });
  };
  return (
    <form onSubmit={start} className="flex gap-2 items-center sm:justify-end">
      <input
        className="input input-sm grow sm:max-w-72"
        aria-label="Name of the new job"
        placeholder="Name of a new job"
        value={title}
        onChange={(e) => setTitle(e.target.value)}
      />
      <button type="submit" className="btn btn-sm btn-primary" disabled={title.trim() === '' || create.isPending}>
        Start a job
      </button>
    </form>
  );
}

const ROW = 86;

/** The jobs that were found; each page of them is asked for when it comes into sight. */
function List({ asked, first }: { asked: JobsAsked; first: DeskView }) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({ count: first.found, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 4 });
  const lines = virtual.getVirtualItems();
  const pageOf = (index: number) => Math.floor(index / DESK_PAGE);
  const further = useDeskPages(
    asked,
    [...new Set(lines.map(({ index }) => pageOf(index)))].filter((page) => page > 0),
  );
  return (
    <div ref={scroller} className="grow min-h-0 overflow-y-auto">
      <ul className="relative max-w-5xl mx-auto" style={{ height: virtual.getTotalSize() }}>
        {lines.map(({ index, start }) => {
          const page = index < DESK_PAGE ? first : further.get(pageOf(index));
          const job = page?.jobs[index % DESK_PAGE];
          return (
            <li key={job?.id ?? index} className="absolute inset-x-6" style={{ top: start, height: ROW - 2 }} data-testid="job">
              {job ? <JobLine job={job} /> : <div className="h-full bg-base-200" />}
            </li>
          );
        })}
      </ul>
    </div>
  );
}

const OPEN = ['proposed', 'contested', 'doubtful', 'short', 'away', 'unpaired'] as const;

function JobLine({ job }: { job: JobSummary }) {
  const [naming, setNaming] = useState(false);
  const change = useChangeJob();
  const bringBack = () => change.mutate({ id: job.id, deleted: false });
  const remove = () =>
    change.mutate(
      { id: job.id, deleted: true },
      {
        onSuccess: () => {
          toast(`${job.title} is deleted. It stays among the deleted jobs for 30 days.`, undoable(bringBack));
        },
      },
    );
  const kept = job.keptUntil === null ? '' : `kept until ${day(job.keptUntil)} · `;
  const times = `${kept}changed ${moment(job.changedAt)} · started ${moment(job.createdAt)}`;
  return (
    <div className="h-full bg-base-200 px-4 py-2 flex flex-col gap-1 justify-center">
      <div className="flex items-baseline gap-3 min-w-0">
        {naming ? (
          <Rename job={job} onDone={() => setNaming(false)} />
        ) : (
          <a href={`/job/${job.id}/${job.listTitle ? 'pairing' : 'turnover'}`} className="font-medium text-base truncate hover:underline">
            {job.title}
          </a>
        )}
        <span className="quiet truncate">{job.listTitle ?? (job.counting ? '' : 'no list yet')}</span>
        <span className="ml-auto" />
        {job.keptUntil === null ? (
          <>
            <button type="button" className="btn btn-xs btn-ghost" aria-label={`Rename ${job.title}`} onClick={() => setNaming(!naming)}>
              Rename
            </button>
            <button type="button" className="btn btn-xs btn-ghost" aria-label={`Delete ${job.title}`} onClick={remove}>
              Delete
            </button>
          </>
        ) : (
          <button type="button" className="btn btn-xs" aria-label={`Bring back ${job.title}`} onClick={bringBack}>
            Bring back
          </button>
        )}
      </div>
      {job.ribbon && job.ribbon.length > 0 ? <SmallRibbon spans={job.ribbon} /> : <div className="h-3" />}
      <div className="flex items-center gap-4 text-xs min-w-0">
        <span className="quiet truncate min-w-0" title={times}>
          {times}
        </span>
        <span className="ml-auto" />
        <Standing job={job} />
      </div>
    </div>
  );
}

/** What is open in a job, as far as it is counted. */
function Standing({ job: { counts, counting, running } }: { job: JobSummary }) {
  const open = counts && OPEN.filter((state) => counts.states[state] > 0);
  return (
    <span className="flex gap-3 items-center whitespace-nowrap shrink-0">
      {running > 0 && <span>{plural(running, 'task')} running</span>}
      {open?.map((state) => (
        <span key={state} className="flex items-center gap-1">
          <Glyph state={state} size={22} /> {counts?.states[state]} {state}
        </span>
      ))}
      {open?.length === 0 && <span className="quiet">everything is paired</span>}
      {(counts?.verdicts.differs ?? 0) > 0 && <span>{plural(counts?.verdicts.differs ?? 0, 'difference')} found</span>}
      {counting && <span className="quiet">counting…</span>}
    </span>
  );
}

function Rename({ job, onDone }: { job: JobSummary; onDone: () => void }) {
  const change = useChangeJob();
  const [title, setTitle] = useState(job.title);
  return (
    <form
      className="flex gap-1"
      onSubmit={(e) => {
        e.preventDefault();
        change.mutate({ id: job.id, title }, { onSuccess: onDone });
      }}
    >
      <input
        className="input input-xs w-64"
        aria-label={`New name for ${job.title}`}
        // biome-ignore lint/a11y/noAutofocus: the person has just asked to write here
        autoFocus
        value={title}
        onChange={(e) => setTitle(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && onDone()}
      />
      <button type="submit" className="btn btn-xs btn-primary" disabled={title.trim() === '' || change.isPending}>
        Rename
      </button>
    </form>
  );
}
