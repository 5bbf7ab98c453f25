import type { Rate } from '@gemello/core';
import { formatTimecode } from '@gemello/core/time';
import type { LedgerRow } from '../../contract';
import { frameIn, useView } from '../data/view';
import { Picture, withoutPicture } from '../parts/Picture';

/** Pictures of a strip, and the steps between them, in frames. */
const COUNT = 9;
const STEPS = [1, 2, 4, 8] as const;
const SIDES = [
  { side: 'reference', alt: 'Reference' },
  { side: 'conform', alt: 'Conform' },
] as const;

/** Frames around the playhead, the reference above the conform, so that it is seen where they part. A click goes there. */
export function Strip({
  job,
  row,
  rate,
  look,
  step,
  onStep,
}: {
  job: string;
  row: LedgerRow;
  rate: Rate;
  look: string;
  step: number;
  onStep: (step: number) => void;
}) {
  const { frame, choose } = useView();
  const at = frameIn(row, frame);
  const frames = Array.from({ length: COUNT }, (_, i) => at + (i - (COUNT >> 1)) * step);
  const { in: from, out } = row.recordFrames;
  return (
    <section aria-label="Frames around the playhead" className="text-xs" data-testid="strip">
      <div className="flex items-center gap-2 pb-1">
        <span className="font-medium">Frames around the playhead</span>
        <span className="quiet">the reference above, the conform below</span>
        <span className="ml-auto flex items-center gap-1">
          <span className="quiet">every</span>
          {STEPS.map((s) => (
            <button
              key={s}
              type="button"
              aria-pressed={s === step}
              className={`btn btn-xs ${s === step ? 'btn-primary' : 'btn-ghost'}`}
              onClick={() => onStep(s)}
            >
              {s === 1 ? 'frame' : s}
            </button>
          ))}
        </span>
      </div>
      <ol className="grid gap-px" style={{ gridTemplateColumns: `repeat(${COUNT}, minmax(0, 1fr))` }}>
        {frames.map((n) => {
          const outside = n < from || n >= out;
          return (
            <li key={n}>
              <button
                type="button"
                className={`w-full ${n === at ? 'outline outline-2 outline-accent' : outside ? 'opacity-60' : ''}`}
                title={`${formatTimecode(n, rate)}${outside ? ': another event' : ''}`}
                disabled={n < 0}
                onClick={() => !outside && choose(row.id, n)}
              >
                {SIDES.map(({ side, alt }) => (
                  <Picture
                    key={side}
                    job={job}
                    side={side}
                    frame={Math.max(0, n)}
                    width={192}
                    look={look}
                    alt={alt}
                    empty={side === 'reference' ? 'none' : withoutPicture(row.state)}
                    className="w-full aspect-video"
                  />
                ))}
                <span className={`tc block ${n === at ? '' : 'quiet'}`}>
                  {n - at === 0 ? formatTimecode(n, rate) : `${n > at ? '+' : ''}${n - at}`}
                </span>
              </button>
            </li>
          );
        })}
      </ol>
    </section>
  );
}
