import type { JobView } from '../../../contract';
import { useStart } from '../../data/queries';
import { isOpen, useTasks } from '../../data/tasks';

/** Has the proof written as a page or a document, and hands over what was written last. */
export function Report({ job, view, disabled }: { job: string; view: JobView; disabled: boolean }) {
  const start = useStart(job);
  const heard = useTasks((s) =>
    Object.values(s.byId)
      .filter((t) => t.kind === 'proof-report')
      .at(-1),
  );
  const running = view.tasks.some((t) => t.kind === 'proof-report' && isOpen(t));
  const write = (format: 'html' | 'pdf') => start.mutate({ kind: 'proof-report', format });
  return (
    <div className="flex flex-wrap items-center gap-1 text-xs">
      <span className="quiet">Report</span>
      <button type="button" className="btn btn-xs btn-ghost" disabled={disabled || running} onClick={() => write('html')}>
        Write as a page
      </button>
      <button type="button" className="btn btn-xs btn-ghost" disabled={disabled || running} onClick={() => write('pdf')}>
        Write as PDF
      </button>
      {heard?.state === 'done' && (
        <a className="btn btn-xs btn-ghost" href={`/api/jobs/${job}/file?report`} download>
          Save the report
        </a>
      )}
    </div>
  );
}
