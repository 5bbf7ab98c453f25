import { plural } from '@gemello/core/words';
import { useEffect, useMemo, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Group, Panel, Separator } from 'react-resizable-panels';
import type { LedgerRow, Twin } from '../../../contract';
import { isUnsettled, pairDecision } from '../../data/events';
import { useCauses } from '../../data/pairing';
import { useDecide, useEvent } from '../../data/queries';
import { chosenRow, useView } from '../../data/view';
import { useCopies } from '../../looking/useCopies';
import { Empty } from '../../parts/Empty';
import { Ledger } from '../../parts/Ledger';
import { useKey } from '../../parts/useKey';
import { useNarrow } from '../../parts/useNarrow';
import type { StageProps } from '../stage';
import { Bench } from './Bench';
import { Bulk } from './Bulk';
import { Causes } from './Causes';
import { ComparePictures } from './ComparePictures';
import { Filters } from './Filters';
import { filteredRows, groupName, NO_PAIR_FILTER, type PairFilter } from './filter';
import { RulesBar } from './RulesBar';
import { Search } from './Search';

const middleOf = ({ recordFrames: { in: from, out } }: LedgerRow): number => Math.floor((from + out) / 2);

/** The signature view: reference and original of every event face each other, and the bench settles one. */
export function Pairing({ job, view, ledger }: StageProps) {
  const [filter, setFilter] = useState<PairFilter>(NO_PAIR_FILTER);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [searching, setSearching] = useState(false);
  const { event, choose } = useView();
  const narrow = useNarrow();
  useCopies(job, view);
  const { data: causes = [], isPending: causesPending } = useCauses(job);
  const decide = useDecide(job);
  const rows = useMemo(() => filteredRows(ledger.rows, filter, view.volumes), [ledger, filter, view.volumes]);
  const row = chosenRow(ledger, event);
  const [current, setCurrent] = useCandidate(row);
  const { data: looked } = useEvent(job, row?.id ?? '', row !== null);
  const inHand = useMemo(() => ledger.rows.filter((r) => selected.has(r.id)), [ledger, selected]);
  const goTo = (found: LedgerRow | undefined) => found && choose(found.id, middleOf(found));
  const next = () => {
    const at = rows.findIndex((r) => r.id === row?.id);
    goTo([...rows.slice(at + 1), ...rows.slice(0, at + 1)].find(isUnsettled));
  };
  const take = (r: LedgerRow, c: Twin) => {
    decide.mutate({ decisions: [pairDecision(r, c)], done: `Event ${r.number} paired with ${c.fileName}` });
  };
  useHotkeys('g', next, [rows, row]);
  useKey('enter', () => {
    const twin = looked?.contenders[current] ?? row?.chosen;
    if (row && twin && !row.accepted) take(row, twin);
  }, [row, ledger, looked, current]);
  useHotkeys('mod+a', () => setSelected(new Set(rows.map((r) => r.id))), { preventDefault: true }, [rows]);
  const extend = (by: number) => {
    const at = rows.findIndex((r) => r.id === row?.id);
    const to = rows[at + by];
    if (!row || !to) return;
    setSelected(new Set([...selected, row.id, to.id]));
    goTo(to);
  };
  useHotkeys('shift+down', () => extend(1), { preventDefault: true }, [rows, row, selected]);
  useHotkeys('shift+up', () => extend(-1), { preventDefault: true }, [rows, row, selected]);
  if (ledger.rows.length === 0)
    return (
      <Empty title="Nothing to pair yet" goTo="turnover" action="Go to Turnover">
        Events are paired once an edit list is imported under Turnover and a volume is added under Originals.
      </Empty>
    );
  // A card that came later would push everything down.
  if (causesPending) return null;
  const proposed = ledger.rows.filter((r) => r.state === 'proposed');
  const offline = ledger.rows.filter((r) => r.state === 'away' || r.state === 'unpaired').length;
  return (
    <div className="h-full flex flex-col min-h-0 max-[900px]:overflow-y-auto">
      <Causes job={job} causes={causes} onShow={(only) => setFilter({ ...NO_PAIR_FILTER, group: filter.group, only })} />
      <div className="flex items-center gap-2 px-3 py-1.5 border-b border-base-300 text-xs flex-wrap">
        <Filters rows={ledger.rows} shown={rows.length} volumes={view.volumes} filter={filter} onFilter={setFilter} />
        <span className="ml-auto" />
        <button
          type="button"
          className="btn btn-xs btn-ghost"
          aria-expanded={searching}
          disabled={offline === 0 && !searching}
          onClick={() => setSearching(!searching)}
        >
          Search for offline
        </button>
        <ComparePictures job={job} view={view} rows={inHand.length > 0 ? inHand : ledger.rows} selected={inHand.length > 0} />
        <span className={offline > 0 ? '' : 'quiet'} title="Events without an original that can be read: away or unpaired">
          {offline === 0 ? 'none offline' : `${offline} offline`}
        </span>
        <a
          className="btn btn-xs btn-ghost"
          href={`/api/jobs/${job}/pairing?report=html`}
          download
          title="The pairs as a page with pictures"
        >
          Report
        </a>
        <a className="btn btn-xs btn-ghost" href={`/api/jobs/${job}/pairing?report=csv`} download title="The pairs as a table">
          CSV
        </a>
        <RulesBar job={job} view={view} selected={[...selected]} />
        <button
          type="button"
          className="btn btn-xs btn-primary"
          disabled={decide.isPending || proposed.length === 0}
          title="Accepts every event with exactly one candidate that meets the rules and has all frames"
          onClick={() =>
            decide.mutate({
              decisions: proposed.flatMap((r) => (r.chosen ? [pairDecision(r, r.chosen)] : [])),
              done: `${plural(proposed.length, 'pair')} accepted`,
            })
          }
        >
          {`Accept all proposed (${proposed.length})`}
        </button>
      </div>
      {searching && (
        <Search
          job={job}
          rows={ledger.rows}
          onShow={(only) => setFilter({ ...NO_PAIR_FILTER, group: filter.group, only })}
          onDone={() => setSearching(false)}
        />
      )}
      <div className="grow min-h-0 max-[900px]:h-[44rem] max-[900px]:shrink-0">
        <Group orientation={narrow ? 'vertical' : 'horizontal'} className="h-full">
          <Panel defaultSize="52%" minSize="30%">
            <Ledger
              job={job}
              ledger={ledger}
              rows={rows}
              groupOf={filter.group === '' ? null : (r) => groupName(r, filter.group as 'reel' | 'source')}
              selected={selected}
              onSelect={setSelected}
            />
          </Panel>
          <Separator className={`${narrow ? 'h-1' : 'w-1'} bg-base-300 hover:bg-accent`} />
          <Panel minSize="30%">
            {row && <Bench job={job} row={row} ledger={ledger} current={current} onCurrent={setCurrent} take={take} selected={selected} />}
          </Panel>
        </Group>
      </div>
      {/* Below, so that no row moves while rows are selected. */}
      {inHand.length > 0 && (
        <Bulk job={job} rows={inHand} onDone={(done) => setSelected((now) => new Set([...now].filter((id) => !done.includes(id))))} />
      )}
    </div>
  );
}

/** Which candidate of an event Enter takes: the first, until another is chosen. */
function useCandidate(row: LedgerRow | null): [number, (at: number) => void] {
  const [current, setCurrent] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another event begins with its first candidate
  useEffect(() => setCurrent(0), [row?.id]);
  return [current, setCurrent];
}
