import { FILLS_ALL } from '@gemello/core/conform';
import { useState } from 'react';
import { toast } from 'sonner';
import { useConform, useDecide } from '../data/queries';
import { typedSince } from '../data/sent';

const EDGES = ['left', 'top', 'right', 'bottom'] as const;
type Edge = (typeof EDGES)[number];

/** Where in the reference its picture lies, as the proof found it or a person says, in hundredths of its width and height. */
export function ReferenceFit({ job }: { job: string }) {
  const { data: conform } = useConform(job);
  const decide = useDecide(job);
  const [typed, setTyped] = useState<Partial<Record<Edge, string>>>({});
  if (!conform?.reference) return null;
  const { fit } = conform.reference.lay;
  const byHand = conform.list.referenceFit !== null;
  const { left, top, width, height } = fit ?? FILLS_ALL;
  const stands: Record<Edge, number> = { left, top, right: left + width, bottom: top + height };
  const shown = (edge: Edge) => typed[edge] ?? String(Number((stands[edge] * 100).toFixed(2)));
  const keep = () => {
    if (Object.keys(typed).length === 0) return;
    const share = (edge: Edge) => (typed[edge] === undefined ? stands[edge] : Number(typed[edge].replace(',', '.')) / 100);
    const part = { left: share('left'), top: share('top'), right: share('right'), bottom: share('bottom') };
    const inside = Object.values(part).every((n) => n >= 0 && n <= 1);
    if (!inside || part.left >= part.right || part.top >= part.bottom) {
      toast.error('The picture lies between 0 and 100 of the width and height; left before right, top before bottom.');
      return;
    }
    decide.mutate(
      { decisions: [{ kind: 'reference-fit', part }], done: 'The picture of the reference lies as it was said' },
      { onSuccess: () => setTyped(typedSince(typed)) },
    );
  };
  return (
    <fieldset className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1" aria-label="Picture of the reference">
      <span className="quiet">Picture of the reference, in % of it</span>
      {EDGES.map((edge) => (
        <label key={edge} className="flex items-center gap-1">
          <span className="quiet">{edge}</span>
          <input
            className="input input-xs tc w-16"
            inputMode="decimal"
            value={shown(edge)}
            onChange={(e) => setTyped({ ...typed, [edge]: e.target.value })}
            onBlur={keep}
            onKeyDown={(e) => {
              if (e.key === 'Enter') keep();
              if (e.key === 'Escape') setTyped({});
            }}
          />
        </label>
      ))}
      <span className="quiet">{byHand ? 'said by hand' : fit ? 'as the proof found it' : 'the whole of it; no proof has looked yet'}</span>
      {byHand && (
        <button
          type="button"
          className="btn btn-xs btn-ghost px-1.5"
          onClick={() =>
            decide.mutate({
              decisions: [{ kind: 'reference-fit', part: null }],
              done: 'The next proof finds where the picture of the reference lies',
            })
          }
        >
          Let the proof find it
        </button>
      )}
    </fieldset>
  );
}
