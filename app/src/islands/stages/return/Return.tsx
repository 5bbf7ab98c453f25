import { templateFault } from '@gemello/core/returning';
import { plural, sizeText } from '@gemello/core/words';
import { useDeferredValue, useState } from 'react';
import { useReturn, useStart } from '../../data/queries';
import { useReturning } from '../../data/returning';
import { Empty } from '../../parts/Empty';
import { Tabs } from '../../parts/Tabs';
import { useOpenTasks } from '../../parts/TaskLine';
import type { StageProps } from '../stage';
import { Asked, Kept } from './Asked';
import { Clips, Unproved, Warnings } from './Planned';
import { TakeBack } from './TakeBack';
import { Written } from './Written';

const WAYS = [
  ['write', 'Write a return'],
  ['back', 'Take back what was made elsewhere'],
] as const;

/** What goes back to the editor, and what comes back from others. */
export function Return(props: StageProps) {
  const { way, turn } = useReturning();
  return (
    <div className="h-full flex flex-col min-h-0">
      <Tabs label="Return" tabs={WAYS} chosen={way} onChoose={turn} />
      <div className="grow min-h-0">{way === 'back' ? <TakeBack job={props.job} rows={props.ledger.rows} /> : <Writing {...props} />}</div>
    </div>
  );
}

/** What will be written, what is missing, and the check of what was written. */
function Writing({ job, view, ledger }: StageProps) {
  const { asked } = useReturning();
  const [title, setTitle] = useState('');
  const [mix, setMix] = useState('');
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const settled = useDeferredValue(asked);
  const { data } = useReturn(job, settled);
  const start = useStart(job);
  const open = useOpenTasks(view.tasks);
  const task = open.find((t) => t.kind === 'return');
  const reviewing = open.some((t) => t.kind === 'review');
  if (!view.list || !data)
    return (
      <Empty title="Nothing to return yet" goTo="turnover" action="Go to Turnover">
        A return is written from an edit list whose events are paired.
      </Empty>
    );
  const name = title || `${view.list.title || 'CUT'}_RETURN`;
  const misnamed = templateFault(asked.template);
  const noRoom = data.bytes > data.room;
  const write = (render: boolean) => start.mutate({ kind: 'return', ...asked, title: name, render });
  return (
    <div className="h-full flex flex-col min-h-0 max-[900px]:overflow-y-auto">
      <div className="px-4 py-3 border-b border-base-300 space-y-2">
        <Asked title={name} onTitle={setTitle} misnamed={misnamed !== null} />
        {misnamed && (
          <p className="text-xs text-error" role="alert">
            {misnamed}
          </p>
        )}
        <div className="flex flex-wrap gap-x-3 gap-y-2 items-center">
          <button
            type="button"
            className="btn btn-sm btn-primary"
            disabled={task !== undefined || misnamed !== null || data.clips.length === 0 || noRoom}
            onClick={() => write(true)}
          >
            {task ? 'Writing…' : `Write ${plural(data.clips.length, 'clip')} and list`}
          </button>
          <button type="button" className="btn btn-sm" disabled={task !== undefined} onClick={() => write(false)}>
            Write list only
          </button>
          <p className={`text-xs ${noRoom ? 'text-error' : 'quiet'}`} data-testid="size">
            {`About ${sizeText(data.bytes)}; the disk has ${sizeText(data.room)} left.`}
            {noRoom && ' Make room on it, or choose another kind of clip.'}
          </p>
          <span className="ml-auto" />
          <Kept />
          <input
            className="input input-sm w-52 tc"
            aria-label="Path of the final mix"
            placeholder="final mix: its path"
            title="Laid by the guide sound, or that of the reference; how it lies is said, and a mix that does not fit is refused"
            value={mix}
            onChange={(e) => setMix(e.target.value)}
          />
          <button
            type="button"
            className="btn btn-sm"
            disabled={reviewing}
            title="The whole conform as one movie to look at, with title and timecode in the picture"
            onClick={() => start.mutate({ kind: 'review', burnIn: true, sound: true, mix: mix.trim() })}
          >
            {reviewing ? 'Writing…' : 'Write review movie'}
          </button>
        </div>
        {data.last && <Written job={job} last={data.last} />}
        {data.review && (
          <p className="text-xs">
            <span className="quiet">Review movie written last: </span>
            <a className="link" href={`/api/jobs/${job}/file?review=${encodeURIComponent(data.review.name)}`}>
              {data.review.name}
            </a>
            {` ${data.review.message}`}
          </p>
        )}
      </div>
      <div ref={setScroller} className="relative grow overflow-auto min-h-0 max-[900px]:overflow-y-visible max-[900px]:shrink-0">
        <Unproved rows={ledger.rows} />
        <Warnings warnings={data.warnings} events={ledger.rows.length} />
        <Clips clips={data.clips} handles={settled.handles} scroller={scroller} />
      </div>
    </div>
  );
}
