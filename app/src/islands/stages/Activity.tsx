import { form, plural } from '@gemello/core/words';
import { useRef, useState } from 'react';
import type { ActivityView } from '../../contract';
import { useActivity, useChangeTask, useExplain, useTakeIn, useUndo } from '../data/queries';
import { isOpen, mayGoOn, taskName } from '../data/tasks';
import { FilesInTrouble } from '../parts/FilesInTrouble';
import { TaskLine, useOpenTasks } from '../parts/TaskLine';
import type { StageProps } from './stage';

const when = (ms: number) => new Date(ms).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', second: '2-digit', hour12: false });

/** Running and past work, and the log of decisions with undo. */
export function Activity({ job, view }: StageProps) {
  const { data } = useActivity(job);
  const open = useOpenTasks(view.tasks);
  const past = (data?.tasks ?? []).filter((t) => !isOpen(t));
  return (
    <div className="h-full grid min-[901px]:grid-cols-2 max-[900px]:auto-rows-max max-[900px]:overflow-y-auto min-h-0">
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
            <PastTask key={task.id} job={job} task={task} />
          ))}
        </ul>
      </section>
      <section aria-label="Decisions" className="overflow-y-auto p-4 border-l border-base-300">
        <div className="flex items-baseline gap-2 mb-2">
          <h2 className="font-medium">Decisions</h2>
          <span className="ml-auto" />
          <a className="btn btn-xs" href={`/api/jobs/${job}/decisions`} download title="All current decisions in one JSON file">
            Export decisions
          </a>
          <TakeIn job={job} />
        </div>
        <Waiting view={view} />
        {data?.decisions.length === 0 && <p className="quiet text-xs">Every decision is logged here and can be undone.</p>}
        <ul data-testid="decisions">
          {data?.decisions.map((d, i) => (
            <DecisionLine key={d.batch} job={job} decision={d} newest={i === 0} />
          ))}
        </ul>
      </section>
    </div>
  );
}

/** How many decisions are not in the cut, and why. */
function Waiting({ view }: Pick<StageProps, 'view'>) {
  if (view.waiting + view.refused === 0) return null;
  const count = (n: number) => plural(n, 'decision');
  return (
    <p className="text-xs text-warning mb-2" role="status">
      {view.waiting > 0 &&
        `${count(view.waiting)} ${form(view.waiting, 'waits', 'wait')}: no event of this cut can be matched to what was decided. `}
      {view.refused > 0 && `${count(view.refused)} cannot be applied to the cut as it is.`}
    </p>
  );
}

function DecisionLine({ job, decision: d, newest }: { job: string; decision: ActivityView['decisions'][number]; newest: boolean }) {
  const undo = useUndo(job);
  const [saying, setSaying] = useState(false);
  return (
    <li className="py-1 border-b border-base-300 text-xs">
      <div className="flex items-baseline gap-3">
        <span className="tc quiet">{when(d.madeAt)}</span>
        <span className="min-w-0 grow">
          <span className={d.withdrawn ? 'line-through quiet' : ''}>{d.text}</span>
          <span className="quiet">
            {d.was !== '' && !d.withdrawn && `, ${d.was}`}
            {` by ${d.who}`}
          </span>
        </span>
        <button type="button" className="btn btn-xs btn-ghost" onClick={() => setSaying(true)}>
          {d.why === '' ? 'Add reason' : 'Edit reason'}
        </button>
        {!newest && (
          <button
            type="button"
            className="btn btn-xs btn-ghost"
            title="Undoes every decision made after this one; each can be redone"
            onClick={() => undo.mutate({ batch: d.batch, what: 'after' })}
          >
            Undo all after this
          </button>
        )}
        <button
          type="button"
          className="btn btn-xs btn-ghost"
          onClick={() => undo.mutate({ batch: d.batch, what: d.withdrawn ? 'redo' : 'undo' })}
        >
          {d.withdrawn ? 'Redo' : 'Undo'}
        </button>
      </div>
      <Why job={job} batch={d.batch} why={d.why} open={saying} onDone={() => setSaying(false)} />
      {d.waiting.length > 0 && (
        <p className="text-warning pl-16">
          {`Waiting for ${d.waiting.slice(0, MOST_NAMED).join(', ')}${d.waiting.length > MOST_NAMED ? ` and ${d.waiting.length - MOST_NAMED} more` : ''}.`}
        </p>
      )}
      {d.refused.map((why) => (
        <p key={why} className="text-warning pl-16">{`Not applied: ${why}.`}</p>
      ))}
    </li>
  );
}

/** Events that are named before the rest are counted. */
const MOST_NAMED = 6;

/** Why something was decided, in words of the person; to be written where `open`. */
function Why({ job, batch, why, open, onDone }: { job: string; batch: string; why: string; open: boolean; onDone: () => void }) {
  const explain = useExplain(job);
  const [text, setText] = useState(why);
  if (!open) return why === '' ? null : <p className="quiet pl-16">{why}</p>;
  return (
    <form
      className="pl-16 py-1 flex gap-1"
      onSubmit={(e) => {
        e.preventDefault();
        explain.mutate({ batch, why: text }, { onSuccess: onDone });
      }}
    >
      <input
        className="input input-xs grow"
        aria-label="Why this was decided"
        placeholder="Why this was decided"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <button type="submit" className="btn btn-xs" disabled={explain.isPending}>
        Save reason
      </button>
    </form>
  );
}

/** Takes in a file of decisions that was saved before or elsewhere. */
function TakeIn({ job }: { job: string }) {
  const takeIn = useTakeIn(job);
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <button type="button" className="btn btn-xs" disabled={takeIn.isPending} onClick={() => input.current?.click()}>
        Import decisions
      </button>
      <input
        ref={input}
        type="file"
        accept=".json"
        className="hidden"
        aria-label="File of decisions"
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          if (file) takeIn.mutate(file);
          e.target.value = '';
        }}
      />
    </>
  );
}

function PastTask({ job, task }: { job: string; task: ActivityView['tasks'][number] }) {
  const change = useChangeTask(job);
  return (
    <li className="grid grid-cols-[auto_5rem_1fr_auto] gap-x-3 py-1 border-b border-base-300 text-xs">
      <span className="tc quiet">{when(task.createdAt)}</span>
      <span>{taskName(task)}</span>
      <span className={task.state === 'failed' ? 'text-error' : task.state === 'stopped' ? 'quiet' : ''}>{task.message || task.state}</span>
      <span className="tc quiet">
        {mayGoOn(task) ? (
          <button
            type="button"
            className="btn btn-xs"
            title="What was finished is not done again"
            onClick={() => change.mutate({ task: task.id, do: 'go-on' })}
          >
            Resume
          </button>
        ) : (
          task.endedAt !== null && `${((task.endedAt - task.createdAt) / 1000).toFixed(1)} s`
        )}
      </span>
      <div className="col-start-3">
        <FilesInTrouble opens="in place" what="unreadable" why="Everything else was finished." files={task.problems} />
      </div>
    </li>
  );
}
