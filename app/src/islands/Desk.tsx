import { QueryClientProvider } from '@tanstack/react-query';
import { useState } from 'react';
import { Toaster } from 'sonner';
import type { JobSummary } from '../contract';
import { client, useJobs, useNewJob } from './data/queries';
import { Glyph } from './parts/Glyph';
import { SmallRibbon } from './parts/Ribbon';

/** What is on the desk. */
export function Desk() {
  return (
    <QueryClientProvider client={client}>
      <Jobs />
      <Toaster theme="dark" position="bottom-right" />
    </QueryClientProvider>
  );
}

function Jobs() {
  const { data: jobs, error } = useJobs();
  const create = useNewJob();
  const [title, setTitle] = useState('');
  const start = async (e: React.FormEvent) => {
    e.preventDefault();
    const { id } = await create.mutateAsync(title);
    location.assign(`/job/${id}/turnover`);
  };
  return (
    <main className="h-full overflow-y-auto">
      <div className="max-w-4xl mx-auto px-6 py-10">
        <header className="flex items-end gap-4 mb-8">
          <img src="/icon.svg" alt="" width={38} />
          <div>
            <h1 className="text-xl font-semibold leading-none">Gemello</h1>
            <p className="quiet mt-1">Every event of a cut has a twin among the camera originals.</p>
          </div>
        </header>
        <form onSubmit={start} className="flex gap-2 mb-8">
          <input
            className="input input-sm grow"
            aria-label="Name of the new job"
            placeholder="Name of a new job"
            value={title}
            onChange={(e) => setTitle(e.target.value)}
          />
          <button type="submit" className="btn btn-sm btn-primary" disabled={title.trim() === ''}>
            Start a job
          </button>
        </form>
        {error && <p className="text-error">{error.message}</p>}
        {jobs?.length === 0 && <p className="quiet">Nothing on the desk yet. Start a job, then bring in its edit list and reference.</p>}
        <ul className="space-y-px">
          {jobs?.map((job) => (
            <li key={job.id}>
              <a
                href={`/job/${job.id}/${job.listTitle ? 'pairing' : 'turnover'}`}
                className="block bg-base-200 hover:bg-base-300 px-4 py-3"
              >
                <JobLine job={job} />
              </a>
            </li>
          ))}
        </ul>
      </div>
    </main>
  );
}

function JobLine({ job }: { job: JobSummary }) {
  const open =
    job.counts &&
    (['proposed', 'contested', 'doubtful', 'short', 'away', 'unpaired'] as const).filter((s) => (job.counts?.states[s] ?? 0) > 0);
  return (
    <>
      <div className="flex items-baseline gap-3 mb-2">
        <span className="font-medium text-base">{job.title}</span>
        <span className="quiet text-xs">{job.listTitle ?? 'no list yet'}</span>
        {job.running > 0 && <span className="text-xs">working</span>}
        <span className="ml-auto flex gap-3 text-xs items-center">
          {open?.map((state) => (
            <span key={state} className="flex items-center gap-1">
              <Glyph state={state} size={22} /> {job.counts?.states[state]} {state}
            </span>
          ))}
          {open?.length === 0 && <span className="quiet">everything paired</span>}
          {(job.counts?.verdicts.differs ?? 0) > 0 && <span>{`${job.counts?.verdicts.differs} findings`}</span>}
        </span>
      </div>
      {job.durationFrames > 0 && <SmallRibbon spans={job.ribbon} length={job.durationFrames} />}
    </>
  );
}
