import { form, plural } from '@gemello/core/words';
import { useRef, useState } from 'react';
import { useReturn, useStart } from '../data/queries';
import { useView } from '../data/view';
import { Empty } from '../parts/Empty';
import { PathText } from '../parts/PathText';
import { useOpenTasks } from '../parts/TaskLine';
import type { StageProps } from './stage';

/** What will be written, what is missing, and the check of what was written. */
export function Return({ job, view, ledger }: StageProps) {
  const [typed, setTyped] = useState('12');
  const wrong = /^\d{1,5}$/.test(typed.trim()) && Number(typed) <= 10_000 ? null : 'Handles are whole frames, from 0 to 10 000.';
  const settled = useRef(12);
  if (!wrong) settled.current = Number(typed);
  const handles = settled.current;
  const [title, setTitle] = useState('');
  const { data } = useReturn(job, handles);
  const start = useStart(job);
  const open = useOpenTasks(view.tasks);
  const working = open.some((t) => t.kind === 'return');
  const reviewing = open.some((t) => t.kind === 'review');
  if (!view.list || !data)
    return (
      <Empty title="Nothing to return yet" goTo="turnover" action="Go to Turnover">
        A return is written from an edit list whose events are paired.
      </Empty>
    );
  const name = title || `${view.list.title || 'CUT'}_RETURN`;
  const write = (render: boolean) => start.mutate({ kind: 'return', handles, title: name, render });
  return (
    <div className="h-full flex flex-col min-h-0 max-[900px]:overflow-y-auto">
      <div className="px-4 py-3 border-b border-base-300 space-y-2">
        <div className="flex flex-wrap gap-x-4 gap-y-2 items-end">
          <label className="text-xs">
            <span className="quiet block mb-1">Name of the returned cut</span>
            <input className="input input-sm w-80" value={name} onChange={(e) => setTitle(e.target.value)} />
          </label>
          <label className="text-xs">
            <span className="quiet block mb-1">Handles, frames</span>
            <input
              inputMode="numeric"
              className={`input input-sm w-24 tc ${wrong ? 'input-error' : ''}`}
              aria-invalid={wrong !== null}
              value={typed}
              onChange={(e) => setTyped(e.target.value)}
            />
          </label>
          <button
            type="button"
            className="btn btn-sm btn-primary"
            disabled={working || wrong !== null || data.clips.length === 0}
            onClick={() => write(true)}
          >
            {working ? 'Writing…' : `Write ${data.clips.length} clips and list`}
          </button>
          <button type="button" className="btn btn-sm" disabled={working} onClick={() => write(false)}>
            Write list only
          </button>
          <button
            type="button"
            className="btn btn-sm ml-auto"
            disabled={reviewing}
            title="The whole conform as one movie to look at, with title and timecode in the picture"
            onClick={() => start.mutate({ kind: 'review', burnIn: true, sound: true })}
          >
            {reviewing ? 'Writing…' : 'Write review movie'}
          </button>
        </div>
        {wrong && (
          <p className="text-xs text-error" role="alert">
            {wrong}
          </p>
        )}
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
      <div className="grow overflow-auto min-h-0 max-[900px]:overflow-y-visible max-[900px]:shrink-0">
        <Warnings warnings={data.warnings} events={ledger.rows.length} />
        <Clips clips={data.clips} handles={handles} />
      </div>
    </div>
  );
}

/** Clips that are named before the rest are counted. */
const MOST_NAMED = 6;

type ReturnData = NonNullable<ReturnType<typeof useReturn>['data']>;

function Written({ job, last }: { job: string; last: NonNullable<ReturnData['last']> }) {
  return (
    <div className="bg-base-200 px-3 py-2 text-xs space-y-1" data-testid="written">
      <p>
        <span className="quiet">Written last: </span>
        {last.clips > 0 ? `${last.clips} clips` : 'lists only'} in <PathText path={last.folder} />
      </p>
      <p className="flex gap-3 flex-wrap">
        {last.lists.map((name) => (
          <a key={name} className="link" href={`/api/jobs/${job}/file?name=${encodeURIComponent(name)}`}>
            {name}
          </a>
        ))}
      </p>
      {last.lists.map((name) => (
        <NotCarried key={name} name={name} notices={(last.notCarried ?? []).filter((n) => n.fileName === name)} />
      ))}
      {last.stale.length > 0 && (
        <p className="text-warning">
          {plural(last.stale.length, 'written clip')} no longer {form(last.stale.length, 'matches', 'match')} the cut or the original:{' '}
          {last.stale.slice(0, MOST_NAMED).join(', ')}
          {last.stale.length > MOST_NAMED && ` and ${last.stale.length - MOST_NAMED} more`}. Write the return again.
        </p>
      )}
      {last.clips > 0 && last.problems.length === 0 && last.stale.length === 0 && (
        <p>Opened again and checked: frames, timecode, reel and rate of every clip are as planned.</p>
      )}
      {last.problems.map((p) => (
        <p key={p.fileName + p.message} className="text-error">
          {p.fileName} {p.message}
        </p>
      ))}
    </div>
  );
}

/** What was found to differ when a list was read again after it was written. */
function NotCarried({ name, notices }: { name: string; notices: readonly { severity: string; message: string }[] }) {
  if (notices.length === 0) return null;
  return (
    <details>
      <summary className="cursor-pointer">
        {name} does not carry {plural(notices.length, 'thing')}
      </summary>
      <ul className="pl-4">
        {notices.map((n) => (
          <li key={n.message} className="flex gap-3">
            <span className={`w-16 shrink-0 ${n.severity === 'lost' ? 'text-warning' : 'quiet'}`}>{n.severity}</span>
            {n.message}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** What each kind of warning comes to, the gravest first. */
const KINDS: readonly { code: ReturnData['warnings'][number]['code']; of: (n: number, events: number) => string }[] = [
  {
    code: 'not-paired',
    of: (n, events) =>
      `${n} of ${events} events ${form(n, 'has', 'have')} no accepted original and will not be rendered; the list keeps what the editor had there`,
  },
  { code: 'frames-missing', of: (n) => `${plural(n, 'clip lacks', 'clips lack')} frames that the cut shows` },
  { code: 'short-handles', of: (n) => `${plural(n, 'clip has', 'clips have')} shorter handles than asked for` },
];

/** One line for each kind of warning; it unfolds to the events, each of which leads to its place under Pairing. */
function Warnings({ warnings, events }: { warnings: ReturnData['warnings']; events: number }) {
  const { choose, go } = useView();
  return KINDS.map(({ code, of }) => {
    const found = warnings.filter((w) => w.code === code);
    return (
      found.length > 0 && (
        <details key={code} className="border-b border-base-300">
          <summary className="cursor-pointer px-4 py-1 text-xs text-warning hover:bg-base-200">{of(found.length, events)}</summary>
          <ul>
            {found.map((w) => (
              <li key={w.event + w.message}>
                <button
                  type="button"
                  className="w-full text-left pl-8 pr-4 py-0.5 text-xs hover:bg-base-200"
                  onClick={() => {
                    choose(w.event, useView.getState().frame ?? 0);
                    go('pairing');
                  }}
                >
                  {w.message}
                </button>
              </li>
            ))}
          </ul>
        </details>
      )
    );
  });
}

/** A handle below zero is none: the cut itself lacks frames there. */
const handleText = (frames: number): string => (frames < 0 ? `none, ${plural(-frames, 'frame')} missing` : String(frames));

function Clips({ clips, handles }: { clips: ReturnData['clips']; handles: number }) {
  return (
    <table className="w-full text-xs">
      <thead className="sticky top-0 bg-base-100">
        <tr className="quiet text-left">
          {['Event', 'Clip to be written', 'Reel', 'Starts at', 'Frames', 'Head handle', 'Tail handle', 'Grade'].map((h) => (
            <th key={h} className="font-normal px-2 py-1 first:pl-4">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {clips.map((c) => (
          <tr key={c.event} className="hover:bg-base-200">
            <td className="tc px-2 pl-4 py-0.5">{c.number}</td>
            <td className="px-2">{c.fileName}</td>
            <td className="tc px-2">{c.reel || '–'}</td>
            <td className="tc px-2">{c.start}</td>
            <td className="tc px-2">{c.frames}</td>
            <td className={`tc px-2 ${c.headHandle < handles ? 'text-warning' : ''}`}>{handleText(c.headHandle)}</td>
            <td className={`tc px-2 ${c.tailHandle < handles ? 'text-warning' : ''}`}>{handleText(c.tailHandle)}</td>
            <td className="px-2">{c.graded ? 'CDL' : ''}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
