import type { ActivityView } from '../../contract';
import { useActivity, useUndo } from '../data/queries';
import { isOpen, taskName } from '../data/tasks';
import { FilesInTrouble } from '../parts/FilesInTrouble';
import { TaskLine, useOpenTasks } from '../parts/TaskLine';
import type { StageProps } from './stage';

const when = (ms: number) => new Date(ms).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', second: '2-digit', hour12: false });

/** Running and past work, and the log of decisions with undo. */
export function Activity({ job, view }: StageProps) {
  const { data } = useActivity(job);
  const open = useOpenTasks(view.tasks);
  const undo = useUndo(job);
  const past = (data?.tasks ?? []).filter((t) => !isOpen(t));
  return (
    <div className="h-full grid grid-cols-2 min-h-0">
      <section aria-label="Work" className="overflow-y-auto p-4">
        <h2 className="font-medium mb-2">Work</h2>
        {open.map((task) => (
          <TaskLine key={task.id} job={job} task={task} />
        ))}
        {open.length === 0 && past.length === 0 && (
          <p className="quiet text-xs">Scans, proofs and returns are listed here while they run and after.</p>
        )}
        <ul className="mt-2">
          {past.map((task) => (
            <PastTask key={task.id} task={task} />
          ))}
        </ul>
      </section>
      <section aria-label="Decisions" className="overflow-y-auto p-4 border-l border-base-300">
        <h2 className="font-medium mb-2">Decisions</h2>
        {data?.decisions.length === 0 && (
          <p className="quiet text-xs">Every pair, slip and grade that is settled is logged here, and can be undone.</p>
        )}
        <ul>
          {data?.decisions.map((d) => (
            <li key={d.batch} className="flex items-baseline gap-3 py-1 border-b border-base-300 text-xs">
              <span className="tc quiet">{when(d.madeAt)}</span>
              <span className={d.withdrawn ? 'line-through quiet' : ''}>{d.text}</span>
              <span className="quiet">{d.who}</span>
              <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={() => undo.mutate(d.batch)}>
                {d.withdrawn ? 'Do again' : 'Undo'}
              </button>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

function PastTask({ task }: { task: ActivityView['tasks'][number] }) {
  return (
    <li className="grid grid-cols-[auto_5rem_1fr_auto] gap-x-3 py-1 border-b border-base-300 text-xs">
      <span className="tc quiet">{when(task.createdAt)}</span>
      <span>{taskName(task)}</span>
      <span className={task.state === 'failed' ? 'text-error' : task.state === 'stopped' ? 'quiet' : ''}>{task.message || task.state}</span>
      <span className="tc quiet">{task.endedAt === null ? '' : `${((task.endedAt - task.createdAt) / 1000).toFixed(1)} s`}</span>
      <div className="col-start-3">
        <FilesInTrouble opens="in place" what="unreadable" why="All else was done." files={task.problems} />
      </div>
    </li>
  );
}
