import type { Mend } from '@gemello/core/mending';
import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { LedgerRow } from '../../../contract';
import { hasFinding } from '../../data/events';
import { useDecide, useEvent, useStart } from '../../data/queries';
import { chosenRow, frameIn, useView } from '../../data/view';
import { Agreement } from '../../parts/Agreement';
import { COMPARE_MODES, type CompareMode, MODE_WORDS } from '../../parts/Compare';
import { Empty } from '../../parts/Empty';
import { useOpenTasks } from '../../parts/TaskLine';
import { Transport } from '../../parts/Transport';
import { Viewer } from '../../parts/Viewer';
import type { StageProps } from '../stage';
import { ByHand } from './ByHand';
import { Findings } from './Findings';
import { frameThatShows, weightOf } from './order';
import { Strip } from './Strip';
import { EventVerdict } from './Verdict';

/** What a kept still shows, by what is seen. */
const STILL: Record<CompareMode, 'conform' | 'facing' | 'split' | 'difference'> = {
  beside: 'facing',
  split: 'split',
  difference: 'difference',
  blend: 'conform',
  swap: 'conform',
  checker: 'conform',
};

/** The check of the conform against the reference, picture by picture. */
export function Proof({ job, view, ledger }: StageProps) {
  const { event, frame, choose } = useView();
  const [mode, setMode] = useState<CompareMode>('beside');
  const [step, setStep] = useState(1);
  const start = useStart(job);
  const decide = useDecide(job);
  useCopies(job, view);
  const row = chosenRow(ledger, event);
  const { data: known } = useEvent(job, row?.id ?? '', row !== null);
  const findings = ledger.rows.filter(hasFinding).sort((a, b) => weightOf(a) - weightOf(b));
  // A finding that was gone to is looked at where it shows best, once its trace is there.
  const [wanted, setWanted] = useState<string | null>(null);
  useEffect(() => {
    if (!row || wanted !== row.id || !known) return;
    setWanted(null);
    choose(row.id, Math.max(row.recordFrames.in, Math.min(row.recordFrames.out - 1, frameThatShows(row, known.trace))));
  }, [wanted, row, known, choose]);
  const goTo = (r: LedgerRow) => {
    choose(r.id, Math.floor((r.recordFrames.in + r.recordFrames.out) / 2));
    setWanted(r.id);
  };
  const next = (by: 1 | -1) => {
    const at = findings.findIndex((r) => r.id === row?.id);
    const count = Math.max(1, findings.length);
    const found = findings[at < 0 && by < 0 ? count - 1 : (at + by + count) % count];
    if (found) goTo(found);
  };
  useHotkeys('g', () => next(1), [findings, row]);
  useHotkeys('shift+g', () => next(-1), [findings, row]);
  useHotkeys('s', () => setMode(COMPARE_MODES[(COMPARE_MODES.indexOf(mode) + 1) % COMPARE_MODES.length] ?? 'beside'), [mode]);
  if (!view.reference)
    return (
      <Empty title="Nothing to prove against" goTo="turnover" action="Go to Turnover">
        The conform is proved against the reference movie; import it under Turnover.
      </Empty>
    );
  if (!row)
    return (
      <Empty title="Nothing to prove yet" goTo="turnover" action="Go to Turnover">
        Import an edit list under Turnover first.
      </Empty>
    );
  const at = frameIn(row, frame);
  const apply = (mend: Mend) =>
    decide.mutate(
      { decisions: [...mend.decisions], done: `Event ${row.number}: ${mend.label}` },
      { onSuccess: () => start.mutate({ kind: 'proof', events: touchedBy(mend, row, ledger.rows) }) },
    );
  return (
    <div className="h-full grid min-[901px]:grid-cols-[1fr_23rem] max-[900px]:auto-rows-max max-[900px]:overflow-y-auto min-h-0">
      <div className="p-3 space-y-2 overflow-y-auto min-w-0" data-testid="viewer">
        <div className="flex flex-wrap items-center gap-1">
          {COMPARE_MODES.map((m) => (
            <button
              key={m}
              type="button"
              aria-pressed={mode === m}
              className={`btn btn-xs ${mode === m ? 'btn-primary' : 'btn-ghost'}`}
              onClick={() => setMode(m)}
            >
              {MODE_WORDS[m]}
            </button>
          ))}
          <a
            className="btn btn-xs btn-ghost ml-auto"
            href={`/api/jobs/${job}/still?frame=${at}&show=${STILL[mode]}`}
            title="A PNG of this frame at the size of the cut, named by its record timecode"
            download
          >
            Save still
          </a>
        </div>
        <Viewer job={job} row={row} at={at} look={ledger.look} mode={mode} />
        <Transport row={row} rate={ledger.rate} plays={false} />
        <EventVerdict key={row.id} job={job} row={row} onMend={apply} onProve={() => start.mutate({ kind: 'proof', events: [row.id] })} />
        <Strip job={job} row={row} rate={ledger.rate} look={ledger.look} step={step} onStep={setStep} />
        <ByHand job={job} row={row} at={at} onMend={apply} />
        <Agreement job={job} row={row} rate={ledger.rate} />
      </div>
      <Findings job={job} view={view} ledger={ledger} rows={findings} chosen={row} onChoose={goTo} onNext={next} />
    </div>
  );
}

/** So long must nothing be asked for, in milliseconds, before copies of all that the cut shows are made. */
const AT_REST = 10_000;

/** Has viewing copies made while nobody asks for anything else, so that the cut then plays without waiting. */
function useCopies(job: string, view: StageProps['view']): void {
  const { mutate } = useStart(job);
  const { event, frame } = useView();
  const busy = useOpenTasks(view.tasks).length > 0;
  const wanted = view.reference !== null && !busy;
  // biome-ignore lint/correctness/useExhaustiveDependencies: whoever goes on to another frame is not at rest
  useEffect(() => {
    if (!wanted) return;
    const timer = setTimeout(() => mutate({ kind: 'copies' }), AT_REST);
    return () => clearTimeout(timer);
  }, [wanted, mutate, event, frame]);
}

/** Events to be proved again after a mend: its own, and the one before it where the cut between them changed. */
function touchedBy({ decisions }: Mend, row: LedgerRow, rows: readonly LedgerRow[]): string[] {
  const cut = decisions.some((d) => d.kind === 'roll' || d.kind === 'transition');
  const before = rows.filter((r) => r.track === row.track && r.recordFrames.out === row.recordFrames.in && r.accepted);
  return [...(cut ? before.map((r) => r.id) : []), row.id];
}
