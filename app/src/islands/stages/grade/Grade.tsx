import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { useDrafts } from '../../data/drafts';
import { useTrial } from '../../data/trial';
import { chosenRow, frameIn, useView } from '../../data/view';
import { Viewer } from '../../looking/Viewer';
import { Empty } from '../../parts/Empty';
import type { StageProps } from '../stage';
import { Controls } from './Controls';
import { Sheet } from './Sheet';

/** Shots as a contact sheet in cut order; the grade of the chosen one, tried in the viewer while it is made. */
export function Grade({ job, ledger }: StageProps) {
  const { event, frame } = useView();
  const shots = ledger.rows.filter((r) => r.state !== 'exempt');
  const row = shots.find((r) => r.id === chosenRow(ledger, event)?.id) ?? shots[0];
  const [without, setWithout] = useState(false);
  useHotkeys('d', () => setWithout((w) => !w));
  useTried(without ? (row?.id ?? null) : null);
  if (!row)
    return (
      <Empty title="No shots yet" goTo="turnover" action="Go to Turnover">
        Shots are graded once an edit list is imported and its events are paired.
      </Empty>
    );
  return (
    <div className="h-full grid min-[901px]:grid-cols-[1fr_20rem] max-[900px]:auto-rows-max max-[900px]:overflow-y-auto min-h-0">
      <Group orientation="vertical" className="min-h-0 min-w-0 max-[900px]:min-h-[36rem]">
        <Panel defaultSize="58%" minSize="30%" className="p-2">
          <Viewer job={job} ledger={ledger} row={row} at={frameIn(row, frame)} />
        </Panel>
        <Separator className="h-1 bg-base-300" />
        <Panel minSize="15%">
          <Sheet job={job} shots={shots} row={row} />
        </Panel>
      </Group>
      <Controls key={row.id} job={job} ledger={ledger} row={row} without={without} onWithout={setWithout} />
    </div>
  );
}

/** Tries all grades that are not applied yet, or shows one event without any. */
function useTried(without: string | null): void {
  const drafts = useDrafts((s) => s.grades);
  const attempt = useTrial((s) => s.attempt);
  useEffect(() => {
    const grades = Object.entries(drafts).filter(([event]) => event !== without);
    const decisions = [...grades, ...(without ? [[without, null] as const] : [])].map(
      ([event, cdl]) => ({ kind: 'grade', scope: { of: 'event', event }, cdl }) as const,
    );
    attempt(decisions.length > 0 ? { decisions, sight: null, moved: null } : null);
  }, [drafts, without, attempt]);
  useEffect(() => () => attempt(null), [attempt]);
}
