import type { Finding } from '@gemello/core';
import { type Mend, mendFor } from '@gemello/core/mending';
import { describeFinding } from '@gemello/core/proof';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { LedgerRow } from '../../../contract';
import { eventName } from '../../data/events';
import { useDecide, useEvent } from '../../data/queries';
import { Glyph } from '../../parts/Glyph';
import { isLater } from './order';

/** What the proof says of the chosen event, each finding with what may be done about it. */
export function EventVerdict({
  job,
  row,
  onMend,
  onProve,
}: {
  job: string;
  row: LedgerRow;
  onMend: (mend: Mend) => void;
  onProve: () => void;
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
    length: row.recordFrames.out - row.recordFrames.in,
    follows: event?.follows ?? true,
  };
  // How it is placed is known only once the event is there.
  const mends = standing ? proof.findings.map((finding) => ({ finding, mend: event ? mendFor(finding, mendable) : null })) : [];
  const isOpen = (finding: Finding) => !row.acceptedFindings.includes(finding.kind);
  const first = mends.find((m) => m.mend && isOpen(m.finding))?.mend;
  useHotkeys('m', () => first && onMend(first), [first]);
  return (
    <section
      className="bg-base-200 p-2 flex flex-wrap items-start gap-2 border-t border-base-300 max-h-[45%] overflow-y-auto"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what does not fit is scrolled by keyboard too
      tabIndex={0}
      aria-label="What the proof says of the event"
      data-testid="event-proof"
    >
      <Glyph state={row.state} size={26} />
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
            <OneFinding
              key={finding.kind}
              job={job}
              row={row}
              finding={finding}
              mend={isOpen(finding) ? mend : null}
              isFirst={mend === first}
              onMend={onMend}
            />
          ))}
        </ul>
      </div>
      <button type="button" className="btn btn-xs" disabled={!row.accepted} onClick={onProve}>
        Prove this event
      </button>
    </section>
  );
}

function OneFinding({
  job,
  row,
  finding,
  mend,
  isFirst,
  onMend,
}: {
  job: string;
  row: LedgerRow;
  finding: Finding;
  mend: Mend | null;
  isFirst: boolean;
  onMend: (mend: Mend) => void;
}) {
  const decide = useDecide(job);
  const [reason, setReason] = useState<string | null>(null);
  const accepted = row.acceptedFindings.includes(finding.kind);
  const open = !accepted && row.proof?.verdict !== 'unchecked';
  const accept = () =>
    decide.mutate(
      {
        decisions: [{ kind: 'accept-finding', event: row.id, finding: finding.kind }],
        done: `Event ${row.number}: the difference is accepted as it is`,
        why: reason?.trim() ?? '',
      },
      { onSuccess: () => setReason(null) },
    );
  return (
    <li className="flex flex-wrap items-center gap-2">
      <span className="grow basis-56">
        {describeFinding(finding)}.
        {finding.confidence !== undefined && <span className="tc quiet">{` ${Math.round(finding.confidence * 100)} % sure`}</span>}
        {isLater(row, finding) && !accepted && <span className="quiet"> Put aside for later.</span>}
      </span>
      {accepted && <span className="quiet">accepted as it is</span>}
      {open && reason === null && (
        <>
          {!isLater(row, finding) && (
            <button
              type="button"
              className="btn btn-xs btn-ghost"
              title="It stays open and goes to the end of the findings"
              onClick={() =>
                decide.mutate({
                  decisions: [{ kind: 'look-later', event: row.id, finding: finding.kind }],
                  done: `Event ${row.number}: put aside for later`,
                })
              }
            >
              Look later
            </button>
          )}
          <button type="button" className="btn btn-xs btn-ghost" onClick={() => setReason('')}>
            Accept as it is
          </button>
        </>
      )}
      {open && reason !== null && (
        <form
          className="flex items-center gap-1 basis-full"
          onSubmit={(e) => {
            e.preventDefault();
            accept();
          }}
        >
          <input
            // biome-ignore lint/a11y/noAutofocus: the field was asked for just now
            autoFocus
            className="input input-xs grow"
            aria-label="Why it is accepted"
            placeholder="Why it may stay; kept with the decision, may be left empty"
            maxLength={400}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            onKeyDown={(e) => e.key === 'Escape' && setReason(null)}
          />
          <button type="submit" className="btn btn-xs btn-primary" disabled={decide.isPending}>
            Accept
          </button>
          <button type="button" className="btn btn-xs btn-ghost" onClick={() => setReason(null)}>
            Cancel
          </button>
        </form>
      )}
      {open && mend && reason === null && (
        <button
          type="button"
          className={`btn btn-xs ${isFirst ? 'btn-primary' : ''}`}
          title={isFirst ? 'M; it is proved again at once' : 'It is proved again at once'}
          onClick={() => onMend(mend)}
        >
          {mend.label}
        </button>
      )}
    </li>
  );
}
