import { describeFinding } from '@gemello/core/proof';
import type { JobView, LedgerRow, LedgerView } from '../../../contract';
import { openFindings } from '../../data/events';
import { useStart } from '../../data/queries';
import { VerdictMark } from '../../parts/VerdictMark';
import { isLater } from './order';
import { Report } from './Report';

/** What was found, most serious first, with what is proved by now. */
export function Findings({
  job,
  view,
  ledger,
  rows,
  chosen,
  onChoose,
  onNext,
}: {
  job: string;
  view: JobView;
  ledger: LedgerView;
  rows: readonly LedgerRow[];
  chosen: LedgerRow;
  onChoose: (row: LedgerRow) => void;
  onNext: (by: 1 | -1) => void;
}) {
  const start = useStart(job);
  const proven = ledger.rows.filter((r) => r.proof);
  const stale = proven.filter((r) => r.proof?.stale).map((r) => r.id);
  return (
    <section className="grow flex flex-col min-h-0" aria-label="Findings">
      <div className="p-3 space-y-2 border-b border-base-300">
        <Tally rows={ledger.rows} />
        <div className="flex flex-wrap gap-1">
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
          <span className="ml-auto flex gap-1">
            <button type="button" className="btn btn-xs btn-ghost" onClick={() => onNext(-1)} disabled={rows.length === 0} title="Shift G">
              Previous
            </button>
            <button type="button" className="btn btn-xs btn-ghost" onClick={() => onNext(1)} disabled={rows.length === 0} title="G">
              Next finding
            </button>
          </span>
        </div>
        <Report job={job} view={view} disabled={proven.length === 0} />
      </div>
      <ul className="overflow-y-auto grow" data-testid="findings">
        {rows.map((r) => (
          <li key={r.id}>
            <button
              type="button"
              data-event={r.id}
              data-number={r.number}
              className={`w-full text-left px-3 py-2 border-b border-base-300 text-xs ${r.id === chosen.id ? 'bg-base-300' : 'hover:bg-base-200'}`}
              onClick={() => onChoose(r)}
            >
              <span className="flex gap-2 items-center">
                {r.proof && <VerdictMark verdict={r.proof.verdict} />}
                <span className="tc font-medium">{r.number}</span>
                <span className="truncate">{r.clipName}</span>
                <span className="tc quiet ml-auto" title="Agreement with the reference; 1 is the same picture">
                  {r.proof?.score?.toFixed(2)}
                </span>
              </span>
              {openFindings(r).map((f) => (
                <span
                  key={f.kind}
                  className={`block ${f.kind === 'cannot-tell' || isLater(r, f) ? 'quiet' : ''}`}
                  style={f.kind === 'cannot-tell' || isLater(r, f) ? undefined : { color: 'var(--state-unpaired)' }}
                >
                  {isLater(r, f) && 'Later: '}
                  {describeFinding(f)}
                </span>
              ))}
            </button>
          </li>
        ))}
        {proven.length > 0 && rows.length === 0 && (
          <li className="p-3 text-xs quiet">
            {stale.length === 0
              ? "No findings: every event that was proved shows the reference's picture."
              : stale.length === proven.length
                ? 'Every proof is from before a change. Prove again to see what differs.'
                : `No findings among the ${proven.length - stale.length} proofs that still hold; ${stale.length} are from before a change.`}
          </li>
        )}
        {proven.length === 0 && (
          <li className="p-3 text-xs quiet">
            {ledger.counts.states.paired === 0
              ? 'Accept pairs first: only they are proved.'
              : 'Not proved yet. Each paired event is compared with the reference, frame by frame.'}
          </li>
        )}
      </ul>
    </section>
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
