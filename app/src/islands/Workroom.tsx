import { formatTimecode } from '@gemello/core/time';
import { plural } from '@gemello/core/words';
import { QueryClientProvider } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { useHotkeys } from 'react-hotkeys-hook';
import { Toaster, toast } from 'sonner';
import type { JobView, LedgerView } from '../contract';
import { shown } from './data/api';
import { client } from './data/client';
import { hasFinding, isUnsettled } from './data/events';
import { useLine } from './data/line';
import { nextOf } from './data/own';
import { useCausesSoon } from './data/pairing';
import { useActivity, useChangeJob, useJob, useLedger, useStart, useUndo } from './data/queries';
import { chosenRow, followAddress, frameIn, STAGES, type Stage, useView } from './data/view';
import { useWatch } from './data/watch';
import { Broken } from './parts/Broken';
import { Keys } from './parts/Keys';
import { Palette } from './parts/Palette';
import { Ribbon } from './parts/Ribbon';
import { TaskLine, useOpenTasks } from './parts/TaskLine';
import { day } from './parts/times';
import { useFocusHome } from './parts/useFocusHome';
import { Activity } from './stages/Activity';
import { Grade } from './stages/grade/Grade';
import { Originals } from './stages/originals/Originals';
import { Pairing } from './stages/pairing/Pairing';
import { Proof } from './stages/proof/Proof';
import { Return } from './stages/return/Return';
import { Turnover } from './stages/turnover/Turnover';
import { useStanding } from './work/useStanding';

const PAGES = {
  turnover: Turnover,
  originals: Originals,
  pairing: Pairing,
  proof: Proof,
  grade: Grade,
  return: Return,
  activity: Activity,
} as const;

/** One job: rail, ribbon and the stage that is open. */
export function Workroom({ job }: { job: string }) {
  return (
    <QueryClientProvider client={client}>
      <ErrorBoundary FallbackComponent={Broken}>
        <Watched job={job} />
      </ErrorBoundary>
      <Toaster theme="dark" position="bottom-right" />
    </QueryClientProvider>
  );
}

function Watched({ job }: { job: string }) {
  return useWatch(job) && <Room job={job} />;
}

function Room({ job }: { job: string }) {
  useEffect(() => followAddress(job), [job]);
  useCausesSoon(job);
  const { data: view, error } = shown(useJob(job));
  const { data: ledger, error: noLedger } = shown(useLedger(job));
  const stage = useView((s) => s.stage);
  const Page = PAGES[stage];
  useRoomKeys(job, ledger);
  useFocusHome();
  const why = error ?? noLedger;
  if (why) return <p className="p-8 text-error">{why.message}</p>;
  return (
    <div className="h-full grid grid-cols-[6.5rem_1fr] grid-rows-[auto_auto_1fr]">
      <Rail view={view} ledger={ledger} />
      <Header job={job} view={view} ledger={ledger} />
      <div className="px-3 pb-1 border-b border-base-300 min-w-0">
        {ledger && ledger.rows.length > 0 && <Ribbon job={job} ledger={ledger} />}
      </div>
      <main className="min-h-0 min-w-0" aria-label={stage}>
        <ErrorBoundary FallbackComponent={Broken} resetKeys={[stage, view, ledger]}>
          {view && ledger && <Page job={job} view={view} ledger={ledger} />}
        </ErrorBoundary>
      </main>
      <Keys />
      <RoomPalette job={job} ledger={ledger} />
    </div>
  );
}

/** Which frames of which originals stand at the playhead, as the page reckons it. */
function AtPlayhead({ job, ledger }: { job: string; ledger: LedgerView }) {
  const { event, frame: moved } = useView();
  const chosen = chosenRow(ledger, event);
  const frame = moved ?? (chosen && frameIn(chosen, null));
  const stands = useStanding(job, frame);
  if (frame === null) return null;
  const words = stands.map((s) => `${s.number} ${s.fileName} ${s.source ?? `frame ${s.sourceFrame}`}`);
  return (
    <span
      className="quiet text-xs tc truncate min-w-0"
      title="What stands at the playhead, from the lowest layer up"
      data-testid="playhead"
    >
      {formatTimecode(frame, ledger.rate)}
      {words.length > 0 && `: ${words.join(' / ')}`}
    </span>
  );
}

function Header({ job, view, ledger }: { job: string; view: JobView | undefined; ledger: LedgerView | undefined }) {
  const open = useOpenTasks(view?.tasks ?? []);
  const sheet = useView((s) => s.open);
  const isDown = useLine((s) => s.isDown);
  return (
    <header className="flex items-center gap-3 px-3 h-10 min-w-0">
      <h1 className="font-semibold text-base truncate">{view?.title}</h1>
      {view?.list && <span className="quiet text-xs truncate">{view.list.title}</span>}
      {ledger && ledger.rows.length > 0 && <AtPlayhead job={job} ledger={ledger} />}
      <span className="ml-auto" />
      {isDown ? (
        <span className="text-error text-xs whitespace-nowrap" role="alert">
          The server does not answer. What you see may be out of date.
        </span>
      ) : view && view.keptUntil !== null ? (
        <Deleted job={job} until={view.keptUntil} />
      ) : (
        open.slice(0, 1).map((task) => <TaskLine key={task.id} job={job} task={task} />)
      )}
      {!isDown && open.length > 1 && <span className="quiet text-xs whitespace-nowrap">{`${open.length - 1} waiting`}</span>}
      <button type="button" className="btn btn-xs btn-ghost" onClick={() => sheet('palette')}>
        Find
      </button>
      <button type="button" className="btn btn-xs btn-ghost" title="Dark or light" onClick={switchTheme}>
        Theme
      </button>
      <button type="button" className="btn btn-xs btn-ghost" aria-label="Keys" onClick={() => sheet('keys')}>
        ?
      </button>
    </header>
  );
}

/** Said over a job that was deleted, maybe elsewhere: what is done in it goes with it. */
function Deleted({ job, until }: { job: string; until: number }) {
  const change = useChangeJob();
  return (
    <span className="text-error text-xs whitespace-nowrap flex items-center gap-2" role="alert">
      {`This job is deleted. It is kept until ${day(until)}.`}
      <button type="button" className="btn btn-xs" onClick={() => change.mutate({ id: job, deleted: false })}>
        Bring back
      </button>
    </span>
  );
}

function switchTheme() {
  const next = document.documentElement.dataset.theme === 'noon' ? 'dusk' : 'noon';
  document.documentElement.dataset.theme = next;
  localStorage.setItem('gemello-theme', next);
}

/** What is still open in each stage, in as few words as the rail has room for. */
function openIn(view: JobView, { rows }: LedgerView): Partial<Record<Stage, string>> {
  const unsettled = rows.filter(isUnsettled).length;
  const findings = rows.filter(hasFinding).length;
  const graded = rows.filter((r) => r.cdl).length;
  const away = view.volumes.filter((v) => !v.here).length;
  const waiting = view.waiting + view.refused;
  return {
    turnover: view.list ? (view.reference ? '' : 'no reference') : 'no list',
    originals: view.volumes.length === 0 ? 'no volume' : away > 0 ? `${away} away` : '',
    pairing: unsettled > 0 ? `${unsettled} open` : '',
    proof: findings > 0 ? plural(findings, 'finding') : '',
    activity: waiting > 0 ? `${waiting} waiting` : '',
    grade: graded > 0 ? `${graded} graded` : '',
  };
}

function Rail({ view, ledger }: { view: JobView | undefined; ledger: LedgerView | undefined }) {
  const stage = useView((s) => s.stage);
  const go = useView((s) => s.go);
  const open = useMemo(() => (view && ledger ? openIn(view, ledger) : {}), [view, ledger]);
  return (
    <nav aria-label="Stages" className="row-span-3 bg-base-200 border-r border-base-300 flex flex-col">
      <a href="/" className="h-10 flex items-center gap-2 px-3 hover:bg-base-300" title="All jobs">
        <img src="/icon.svg" alt="" width={20} />
        <span className="text-xs quiet">Jobs</span>
      </a>
      {STAGES.map((name) => (
        <button
          key={name}
          type="button"
          aria-current={name === stage ? 'page' : undefined}
          onClick={() => go(name)}
          className={`text-left px-3 py-2 leading-tight border-l-2 ${name === 'activity' ? 'mt-auto' : ''} ${
            name === stage ? 'border-accent bg-base-300' : 'border-transparent hover:bg-base-300'
          }`}
        >
          <span className="block capitalize text-[13px]">{name}</span>
          <span className="block text-xs quiet h-4 whitespace-nowrap">{open[name]}</span>
        </button>
      ))}
    </nav>
  );
}

/** The keys that work in every stage. */
function useRoomKeys(job: string, ledger: LedgerView | undefined) {
  const { event, choose, go, open } = useView();
  const undo = useUndo(job);
  const { refetch } = useActivity(job);
  const rows = ledger?.rows ?? [];
  const index = rows.findIndex((r) => r.id === chosenRow(ledger, event)?.id);
  const step = (by: number) => {
    const row = rows[Math.max(0, Math.min(rows.length - 1, index + by))];
    if (row) choose(row.id, Math.floor((row.recordFrames.in + row.recordFrames.out) / 2));
  };
  useHotkeys('up', () => step(-1), { preventDefault: true }, [index, rows]);
  useHotkeys('down', () => step(1), { preventDefault: true }, [index, rows]);
  useHotkeys('shift+slash, ?', () => open('keys'), { useKey: true });
  useHotkeys('mod+k', () => open('palette'), { preventDefault: true, enableOnFormTags: true });
  useHotkeys('escape', () => open(null));
  useHotkeys('1,2,3,4,5,6,7', (e) => go(STAGES[Number(e.key) - 1] ?? 'turnover'));
  // Asked anew: what was decided a moment ago may not be on the page yet.
  const next = async () => nextOf((await refetch()).data?.decisions ?? []);
  const none = (what: string) =>
    toast(`Nothing that was decided on this page is left to ${what}. All decisions are listed under Activity.`);
  useHotkeys('z', async () => {
    const last = (await next()).undo;
    if (last) undo.mutate({ batch: last.batch, what: 'undo' });
    else none('undo');
  }, [refetch]);
  useHotkeys('shift+z', async () => {
    const last = (await next()).redo;
    if (last) undo.mutate({ batch: last.batch, what: 'redo' });
    else none('do again');
  }, [refetch]);
}

function RoomPalette({ job, ledger }: { job: string; ledger: LedgerView | undefined }) {
  const { mutate: start } = useStart(job);
  const commands = useMemo(
    () => [
      { name: 'Prove everything against the reference', run: () => start({ kind: 'proof', events: null }) },
      { name: 'Scan all volumes again', run: () => start({ kind: 'scan', volumes: null }) },
      { name: 'Switch between dark and light', run: switchTheme },
    ],
    [start],
  );
  return <Palette ledger={ledger} commands={commands} />;
}
