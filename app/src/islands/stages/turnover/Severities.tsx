import { SEVERITIES, type Severity } from '@gemello/core';

const MEANING: Record<Severity, string> = {
  unreadable: 'could not be read',
  lost: 'did not come across',
  changed: 'came across changed',
  kept: 'kept as a note',
};

/** How many notices there are of each weight. With `onShow` they are buttons that show one kind alone. */
export function Severities({
  counts,
  shown,
  onShow,
}: {
  counts: Record<Severity, number>;
  shown?: Severity | null;
  onShow?: (severity: Severity | null) => void;
}) {
  const there = SEVERITIES.filter((s) => counts[s] > 0);
  if (there.length === 0) return <span className="quiet font-normal">Clean: everything in the list was understood.</span>;
  return there.map((s) =>
    onShow ? (
      <button
        key={s}
        type="button"
        aria-pressed={shown === s}
        className={`btn btn-xs ${shown === s ? 'btn-primary' : ''}`}
        onClick={() => onShow(shown === s ? null : s)}
      >
        {counts[s]} {MEANING[s]}
      </button>
    ) : (
      <span key={s} className={`font-normal ${s === 'kept' ? 'quiet' : 'text-warning'}`}>
        {counts[s]} {MEANING[s]}
      </span>
    ),
  );
}
