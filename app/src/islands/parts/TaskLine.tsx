import type { TaskView } from '../../contract';
import { useChangeTask, useStop } from '../data/queries';
import { isOpen, taskName, timeLeft, useTasks } from '../data/tasks';

/** The tasks of a job that have not ended: what the server named, and what was heard since. */
export function useOpenTasks(fromServer: readonly TaskView[]): TaskView[] {
  const heard = useTasks((s) => s.byId);
  const all = new Map(fromServer.map((t) => [t.id, t]));
  for (const task of Object.values(heard)) all.set(task.id, task);
  return [...all.values()].filter(isOpen);
}

/** One task that has not ended: its progress, and what can be done with it. */
export function TaskLine({ job, task }: { job: string; task: TaskView }) {
  const stop = useStop(job);
  const change = useChangeTask(job);
  const name = taskName(task);
  const since = useTasks((s) => s.since[task.id]);
  // Nobody waits for copies, which go as others let them.
  const left = task.kind === 'copies' ? '' : timeLeft(task, since, Date.now());
  const share = task.total > 0 ? `${Math.round((100 * task.done) / task.total)} %` : '';
  return (
    <div className="flex items-center gap-2 text-xs min-w-0" role="status">
      <span className="font-medium whitespace-nowrap">{name}</span>
      <progress
        className="progress w-36"
        aria-label={`${name} progress`}
        value={task.total > 0 || task.state === 'paused' ? task.done : undefined}
        max={task.total || 1}
      />
      <span className="tc quiet">{task.state === 'running' ? share : task.state}</span>
      {left && <span className="quiet whitespace-nowrap">{left}</span>}
      <span className="quiet truncate max-w-52">{task.what}</span>
      {task.state === 'paused' ? (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => change.mutate({ task: task.id, do: 'go-on' })}>
          Resume
        </button>
      ) : (
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => change.mutate({ task: task.id, do: 'pause' })}>
          Pause
        </button>
      )}
      <button type="button" className="btn btn-xs btn-ghost" onClick={() => stop.mutate(task.id)}>
        Stop
      </button>
    </div>
  );
}
