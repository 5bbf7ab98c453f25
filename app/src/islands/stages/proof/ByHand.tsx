import type { Decision } from '@gemello/core';
import { FILLING } from '@gemello/core/edit';
import type { Mend } from '@gemello/core/mending';
import { signed } from '@gemello/core/words';
import { useState } from 'react';
import type { LedgerRow } from '../../../contract';
import { useEvent } from '../../data/queries';
import { ByHand as AnotherOriginal } from '../pairing/ByHand';

/** Where no mend was found, or another is meant: a slip, a size and position, or another original, set by hand. It is proved again at once. */
export function ByHand({ job, row, at, onMend }: { job: string; row: LedgerRow; at: number; onMend: (mend: Mend) => void }) {
  const [slip, setSlip] = useState('');
  const frames = Number(slip);
  const { acceptedPath: original, sourceStart } = row;
  const canSlip = original !== null && sourceStart !== null && Number.isInteger(frames) && frames !== 0 && slip.trim() !== '';
  const label = `Slip by ${signed(frames)}`;
  return (
    <details className="bg-base-200 text-xs">
      <summary className="p-3 cursor-pointer font-medium">Mend by hand</summary>
      <div className="px-3 pb-3 grid gap-4 min-[1100px]:grid-cols-3">
        <form
          aria-label="Slip by hand"
          className="flex flex-wrap items-end gap-2 content-start"
          onSubmit={(e) => {
            e.preventDefault();
            if (!canSlip || original === null || sourceStart === null) return;
            onMend({
              decisions: [{ kind: 'slip', event: row.id, original, sourceStartFrame: sourceStart + frames }],
              label,
            });
            setSlip('');
          }}
        >
          <label className="grow">
            <span className="quiet block pb-1">Slip: frames later in the original, or earlier with a minus</span>
            <input
              className="input input-xs tc w-24"
              inputMode="numeric"
              value={slip}
              onChange={(e) => setSlip(e.target.value)}
              disabled={original === null}
            />
          </label>
          <button type="submit" className="btn btn-xs" disabled={!canSlip}>
            {canSlip ? label : 'Slip'}
          </button>
        </form>
        <Placing key={row.id} job={job} row={row} onMend={onMend} />
        <AnotherOriginal job={job} row={row} at={at} />
      </div>
    </details>
  );
}

const FIELDS = [
  { name: 'scale', says: 'Size, %', of: 100 },
  { name: 'x', says: 'Right, %', of: 100 },
  { name: 'y', says: 'Down, %', of: 100 },
  { name: 'rotation', says: 'Turn, °', of: 1 },
] as const;
type Field = (typeof FIELDS)[number]['name'];

function Placing({ job, row, onMend }: { job: string; row: LedgerRow; onMend: (mend: Mend) => void }) {
  const { data: event } = useEvent(job, row.id);
  const [typed, setTyped] = useState<Partial<Record<Field, string>>>({});
  const now = event?.placement ?? FILLING;
  const stands: Record<Field, number> = { scale: now.scaleX, x: now.x, y: now.y, rotation: now.rotation };
  const value = (field: Field, of: number) => (typed[field] === undefined ? stands[field] : Number(typed[field]) / of);
  const wanted = FIELDS.map(({ name, of }) => [name, value(name, of)] as const);
  const valid = wanted.every(([name, v]) => Number.isFinite(v) && (name !== 'scale' || v > 0)) && Object.keys(typed).length > 0;
  const apply = () => {
    const { scale, x, y, rotation } = Object.fromEntries(wanted) as Record<Field, number>;
    const placement = { ...now, scaleX: scale, scaleY: (scale * now.scaleY) / now.scaleX, x, y, rotation, keys: [] };
    const decision: Decision = { kind: 'placement', event: row.id, placement };
    onMend({ decisions: [decision], label: 'Apply size and position' });
    setTyped({});
  };
  return (
    <form
      aria-label="Size and position by hand"
      className="flex flex-wrap items-end gap-2 content-start"
      onSubmit={(e) => {
        e.preventDefault();
        if (valid) apply();
      }}
    >
      {FIELDS.map(({ name, says, of }) => (
        <label key={name}>
          <span className="quiet block pb-1">{says}</span>
          <input
            className="input input-xs tc w-16"
            inputMode="decimal"
            disabled={!event}
            value={typed[name] ?? String(Math.round(stands[name] * of * 100) / 100)}
            onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
          />
        </label>
      ))}
      <button type="submit" className="btn btn-xs" disabled={!valid}>
        Apply size and position
      </button>
    </form>
  );
}
