import type { Mend } from '@gemello/core/mending';
import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import type { LedgerRow } from '../../../contract';
import { hasFinding } from '../../data/events';
import { useLooking } from '../../data/looking';
import { useDecide, useEvent, useStart } from '../../data/queries';
import { chosenRow, useView } from '../../data/view';
import { Lanes } from '../../lanes/Lanes';
import { Agreement } from '../../looking/Agreement';
import { Strip } from '../../looking/Strip';
import { useCopies } from '../../looking/useCopies';
import { Viewer } from '../../looking/Viewer';
import { Empty } from '../../parts/Empty';
import { Tabs } from '../../parts/Tabs';
import { useNarrow } from '../../parts/useNarrow';
import { Values } from '../pairing/values/Values';
import type { StageProps } from '../stage';
import { Findings } from './Findings';
import { frameThatShows, weightOf } from './order';
import { useProveAgain } from './useProveAgain';
import { EventVerdict } from './Verdict';

const LOWER = [
  ['lanes', 'Lanes'],
  ['frames', 'Frames around the playhead'],
  ['agreement', 'Agreement'],
] as const;
const SIDE = [
  ['findings', 'Findings'],
  ['values', 'Values'],
] as const;

/** The check of the conform against the reference, picture by picture; and where it is put right. */
export function Proof({ job, view, ledger }: StageProps) {
  const { event, frame, choose } = useView();
  const { lower, side, set } = useLooking();
  const [step, setStep] = useState(1);
  const start = useStart(job);
  const decide = useDecide(job);
  const narrow = useNarrow();
  const layout = useDefaultLayout({ id: 'gemello-proof', storage: localStorage });
  useCopies(job, view);
  useProveAgain(job, ledger);
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
  if (!row)
    return (
      <Empty title="Nothing to prove yet" goTo="turnover" action="Go to Turnover">
        Import an edit list under Turnover first.
      </Empty>
    );
  // The playhead goes through the whole cut, gaps included.
  const at = frame ?? Math.floor((row.recordFrames.in + row.recordFrames.out) / 2);
  const apply = (mend: Mend) => decide.mutate({ decisions: [...mend.decisions], done: `Event ${row.number}: ${mend.label}` });
  return (
    <div className="h-full grid min-[901px]:grid-cols-[1fr_22rem] max-[900px]:auto-rows-max max-[900px]:overflow-y-auto min-h-0">
      <div className={`min-w-0 ${narrow ? 'h-[46rem]' : 'min-h-0'}`} data-testid="viewer">
        <Group orientation="vertical" className="h-full" {...layout}>
          <Panel id="viewer" defaultSize="62%" minSize="30%">
            <div className="h-full p-2">
              <Viewer job={job} ledger={ledger} row={row} at={at} />
            </div>
          </Panel>
          <Separator className="h-1 bg-base-300 hover:bg-accent" />
          <Panel id="lower" minSize="15%">
            <div className="h-full flex flex-col min-h-0">
              <Tabs label="Below the viewer" tabs={LOWER} chosen={lower} onChoose={(tab) => set({ lower: tab })} />
              <div className="grow min-h-0 overflow-y-auto">
                {lower === 'lanes' && <Lanes job={job} ledger={ledger} row={row} at={at} />}
                {lower === 'frames' && <Strip job={job} row={row} rate={ledger.rate} look={ledger.look} step={step} onStep={setStep} />}
                {lower === 'agreement' && <Agreement job={job} row={row} rate={ledger.rate} />}
              </div>
            </div>
          </Panel>
        </Group>
      </div>
      <aside className="border-l border-base-300 flex flex-col min-h-0" aria-label="Findings and values">
        <Tabs label="Beside the viewer" tabs={SIDE} chosen={side} onChoose={(tab) => set({ side: tab })} />
        {side === 'values' ? (
          <div className="grow min-h-0 overflow-y-auto">
            <Values job={job} ledger={ledger} row={row} at={at} />
          </div>
        ) : !view.reference ? (
          <Empty title="Nothing to prove against" goTo="turnover" action="Go to Turnover">
            The conform is proved against the reference movie; import it under Turnover.
          </Empty>
        ) : (
          <Findings job={job} view={view} ledger={ledger} rows={findings} chosen={row} onChoose={goTo} onNext={next} />
        )}
        <EventVerdict key={row.id} job={job} row={row} onMend={apply} onProve={() => start.mutate({ kind: 'proof', events: [row.id] })} />
      </aside>
    </div>
  );
}
