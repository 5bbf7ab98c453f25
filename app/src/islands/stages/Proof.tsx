import type { Finding } from '@gemello/core';
import { type Mend, mendFor } from '@gemello/core/mending';
import { describeFinding } from '@gemello/core/proof';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { LedgerRow } from '../../contract';
import { eventName, hasFinding, openFindings } from '../data/events';
import { useDecide, useEvent, useStart } from '../data/queries';
import { chosenRow, frameIn, useView } from '../data/view';
import { Agreement } from '../parts/Agreement';
import { COMPARE_MODES, Compare, type CompareMode, MODE_WORDS } from '../parts/Compare';
import { Empty } from '../parts/Empty';
import { Glyph } from '../parts/Glyph';
import { Transport } from '../parts/Transport';
import type { StageProps } from './stage';

/** Most serious first. */
const ORDER: readonly Finding['kind'][] = [
  'wrong-picture',
  'picture-missing',
  'slipped',
  'cut-moved',
  'layer-missing',
  'speed-differs',
  'mirrored',
  'reframed',
  'transition-differs',
  'cannot-tell',
];

const weight = (row: LedgerRow) => {
  const at = ORDER.indexOf(row.proof?.findings[0]?.kind ?? 'cannot-tell');
  return row.proof?.verdict === 'differs' ? at : row.proof?.verdict === 'uncertain' ? 10 + at : 20;
};

/** What a kept still shows, by what is seen. */
const STILL: Record<CompareMode, 'conform' | 'facing' | 'split' | 'difference'> = {
  beside: 'facing',
  split: 'split',
  difference: 'difference',
  blend: 'conform',
  swap: 'conform',
};

/** The check of the conform against the reference, picture by picture. */
export function Proof({ job, view, ledger }: StageProps) {
  const { event, frame, choose } = useView();
  const [mode, setMode] = useState<CompareMode>('beside');
  const start = useStart(job);
  const decide = useDecide(job);
  const row = chosenRow(ledger, event);
  const proven = ledger.rows.filter((r) => r.proof);
  const findings = proven.filter(hasFinding).sort((a, b) => weight(a) - weight(b));
  const stale = proven.filter((r) => r.proof?.stale).map((r) => r.id);
  const next = () => {
    const at = findings.findIndex((r) => r.id === row?.id);
    const found = findings[(at + 1) % Math.max(1, findings.length)];
    if (found) choose(found.id, Math.floor((found.recordFrames.in + found.recordFrames.out) / 2));
  };
  useHotkeys('g', next, [findings, row]);
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
        <Compare job={job} row={row} at={at} look={ledger.look} mode={mode} />
        <Transport row={row} rate={ledger.rate} />
        <EventProofBox
          row={row}
          job={job}
          onMend={apply}
          onProve={() => start.mutate({ kind: 'proof', events: [row.id] })}
          onAccept={(finding) =>
            decide.mutate({
              decisions: [{ kind: 'accept-finding', event: row.id, finding }],
              done: `Event ${row.number}: the difference is accepted as it is`,
            })
          }
        />
        <Agreement job={job} row={row} rate={ledger.rate} />
      </div>
      <aside className="border-l border-base-300 flex flex-col min-h-0" aria-label="Findings">
        <div className="p-3 space-y-2 border-b border-base-300">
          <Tally rows={ledger.rows} />
          <div className="flex gap-1">
            <button
              type="button"
              className="btn btn-xs btn-primary"
              disabled={start.isPending || ledger.counts.states.paired === 0}
              onClick={() => start.mutate({ kind: 'proof', events: null })}
            >
              Prove everything
            </button>
            {stale.length > 0 && (
              <button type="button" className="btn btn-xs" onClick={() => start.mutate({ kind: 'proof', events: stale })}>
                {`Prove ${stale.length} changed`}
              </button>
            )}
            <button type="button" className="btn btn-xs btn-ghost ml-auto" onClick={next} disabled={findings.length === 0} title="G">
              Next finding
            </button>
          </div>
        </div>
        <ul className="overflow-y-auto grow" data-testid="findings">
          {findings.map((r) => (
            <li key={r.id}>
              <button
                type="button"
                data-event={r.id}
                data-number={r.number}
                className={`w-full text-left px-3 py-2 border-b border-base-300 text-xs ${r.id === row.id ? 'bg-base-300' : 'hover:bg-base-200'}`}
                onClick={() => choose(r.id, frameIn(r, frame))}
              >
                <span className="flex gap-2">
                  <span className="tc font-medium">{r.number}</span>
                  <span className="truncate">{r.clipName}</span>
                  <span className="tc quiet ml-auto" title="Agreement with the reference; 1 is the same picture">
                    {r.proof?.score?.toFixed(2)}
                  </span>
                </span>
                {openFindings(r).map((f) => (
                  <span
                    key={f.kind}
                    className={`block ${f.kind === 'cannot-tell' ? 'quiet' : ''}`}
                    style={f.kind === 'cannot-tell' ? undefined : { color: 'var(--state-unpaired)' }}
                  >
                    {describeFinding(f)}
                  </span>
                ))}
              </button>
            </li>
          ))}
          {proven.length > 0 && findings.length === 0 && (
            <li className="p-3 text-xs quiet">No findings: every event that was proved shows the reference's picture.</li>
          )}
          {proven.length === 0 && (
            <li className="p-3 text-xs quiet">
              {ledger.counts.states.paired === 0
                ? 'Accept pairs first: only they are proved.'
                : 'Not proved yet. Each paired event is compared with the reference, frame by frame.'}
            </li>
          )}
        </ul>
      </aside>
    </div>
  );
}

function Tally({ rows }: { rows: readonly LedgerRow[] }) {
  const count = (test: (r: LedgerRow) => boolean) => rows.filter(test).length;
  const standing = (verdict: string) => count((r) => r.proof?.verdict === verdict && !r.proof.stale);
  const parts = [
    ['same', standing('same')],
    ['differ', standing('differs')],
    ['unclear', standing('uncertain')],
    ['not proved', count((r) => !r.proof || r.proof.stale || r.proof.verdict === 'unchecked')],
  ] as const;
  return (
    <dl className="grid grid-cols-4 text-center">
      {parts.map(([name, n]) => (
        <div key={name} className="flex flex-col-reverse">
          <dt className="text-xs quiet">{name}</dt>
          <dd className={`tc text-lg leading-tight ${name === 'differ' && n > 0 ? 'text-error' : ''}`}>{n}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Events to be proved again after a mend: its own, and the one before it where the cut between them changed. */
function touchedBy({ decisions }: Mend, row: LedgerRow, rows: readonly LedgerRow[]): string[] {
  const cut = decisions.some((d) => d.kind === 'roll' || d.kind === 'transition');
  const before = rows.filter((r) => r.track === row.track && r.recordFrames.out === row.recordFrames.in && r.accepted);
  return [...(cut ? before.map((r) => r.id) : []), row.id];
}

/** What the proof says of the chosen event, each finding with what may be done about it. */
function EventProofBox({
  job,
  row,
  onMend,
  onProve,
  onAccept,
}: {
  job: string;
  row: LedgerRow;
  onMend: (mend: Mend) => void;
  onProve: () => void;
  onAccept: (finding: string) => void;
}) {
  const { proof } = row;
  const { data: event } = useEvent(job, row.id);
  const standing = proof !== null && !proof.stale;
  const mendable = {
    event: row.id,
    original: row.acceptedPath,
    sourceStart: row.sourceStart,
    placement: event?.placement ?? null,
    shape: event?.shape ?? 1,
  };
  // How it is placed is known only once the event is there.
  const mends = standing ? proof.findings.map((finding) => ({ finding, mend: event ? mendFor(finding, mendable) : null })) : [];
  const isOpen = (finding: Finding) => !row.acceptedFindings.includes(finding.kind);
  const first = mends.find((m) => m.mend && isOpen(m.finding))?.mend;
  useHotkeys('m', () => first && onMend(first), [first]);
  return (
    <div className="bg-base-200 p-3 flex flex-wrap items-start gap-3" data-testid="event-proof">
      <Glyph state={row.state} size={32} />
      <div className="grow basis-64 min-w-0 text-xs">
        <p className="font-medium text-sm">
          <span className="tc">{row.number}</span> {eventName(row)}
          {row.slip !== 0 && <span className="quiet font-normal">{`  slipped by ${row.slip > 0 ? '+' : ''}${row.slip}`}</span>}
        </p>
        {!row.accepted && row.state !== 'exempt' && (
          <p className="quiet">Not accepted yet, so it is not proved. The picture shown is the best candidate.</p>
        )}
        {row.accepted && !proof && <p className="quiet">Not proved yet.</p>}
        {proof?.stale && row.accepted && <p className="quiet">It was changed after its proof; prove it again.</p>}
        {standing && (
          <p>
            {proof.verdict === 'same' && 'Same picture, frame for frame'}
            {proof.verdict === 'differs' && 'Differs from the reference'}
            {proof.verdict === 'uncertain' && 'Cannot be told for certain'}
            {proof.verdict === 'unchecked' && 'Not compared'}
            {proof.score !== null && <span className="tc quiet">{`  agreement ${proof.score.toFixed(3)} of 1`}</span>}
          </p>
        )}
        <ul className="space-y-1 mt-1">
          {mends.map(({ finding, mend }) => (
            <li key={finding.kind} className="flex flex-wrap items-center gap-2">
              <span className="grow basis-56">
                {describeFinding(finding)}.
                {finding.confidence !== undefined && <span className="tc quiet">{` ${Math.round(finding.confidence * 100)} % sure`}</span>}
              </span>
              {!isOpen(finding) && <span className="quiet">accepted as it is</span>}
              {isOpen(finding) && proof?.verdict !== 'unchecked' && (
                <button type="button" className="btn btn-xs btn-ghost" onClick={() => onAccept(finding.kind)}>
                  Accept as it is
                </button>
              )}
              {isOpen(finding) && mend && (
                <button
                  type="button"
                  className={`btn btn-xs ${mend === first ? 'btn-primary' : ''}`}
                  title={mend === first ? 'M; it is proved again at once' : 'It is proved again at once'}
                  onClick={() => onMend(mend)}
                >
                  {mend.label}
                </button>
              )}
            </li>
          ))}
        </ul>
      </div>
      <button type="button" className="btn btn-sm" disabled={!row.accepted} onClick={onProve}>
        Prove this event
      </button>
    </div>
  );
}
