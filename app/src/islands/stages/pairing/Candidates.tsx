import { plural } from '@gemello/core/words';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { EventView, LedgerRow, Twin } from '../../../contract';
import { Picture } from '../../parts/Picture';
import { Candidate } from './Candidate';

interface Props {
  readonly job: string;
  readonly row: LedgerRow;
  readonly contenders: EventView['contenders'];
  readonly at: number;
  /** Which of them Enter takes. */
  readonly current: number;
  readonly onCurrent: (at: number) => void;
  readonly take: (row: LedgerRow, twin: Twin) => void;
}

/** The candidates of an event, best first; two of them may be laid over each other and flicked. */
export function Candidates({ job, row, contenders, at, current, onCurrent, take }: Props) {
  const [compared, setCompared] = useState(false);
  useHotkeys('n', () => onCurrent((current + 1) % Math.max(1, contenders.length)), [current, contenders]);
  useHotkeys('c', () => contenders.length > 1 && setCompared(!compared), [compared, contenders]);
  if (contenders.length === 0)
    return row.state === 'exempt' ? null : (
      <p className="text-xs quiet">
        No original of the job has this reel or name. Add the volume it is on under Originals, or find another below.
      </p>
    );
  const rival = contenders[current === 0 ? 1 : 0];
  const chosen = contenders[current];
  return (
    <section aria-label="Candidates" className="space-y-2">
      <div className="flex items-baseline gap-3 text-xs">
        <h2 className="quiet">{plural(contenders.length, 'candidate')}</h2>
        {contenders.length > 1 && (
          <>
            <button type="button" className="btn btn-xs btn-ghost" title="N" onClick={() => onCurrent((current + 1) % contenders.length)}>
              Next candidate
            </button>
            <button type="button" className="btn btn-xs btn-ghost" title="C" aria-pressed={compared} onClick={() => setCompared(!compared)}>
              {compared ? 'Close comparison' : 'Compare candidates'}
            </button>
          </>
        )}
      </div>
      {compared && rival && chosen && <Flick job={job} row={row} at={at} pair={[chosen, rival]} />}
      {contenders.map((c, i) => (
        <Candidate
          key={c.path}
          job={job}
          row={row}
          contender={c}
          at={at}
          current={i === current}
          taken={row.accepted && c.path === row.chosen?.path}
          onTake={() => take(row, c)}
        />
      ))}
    </section>
  );
}

/** Two candidates at the same frame, one over the other. */
function Flick({
  job,
  row,
  at,
  pair,
}: {
  job: string;
  row: LedgerRow;
  at: number;
  pair: readonly [EventView['contenders'][number], EventView['contenders'][number]];
}) {
  const [how, setHow] = useState<0 | 1 | 'both'>(0);
  useHotkeys('b', () => setHow(how === 0 ? 1 : 0), [how]);
  const picture = (i: 0 | 1) => (
    <Picture
      job={job}
      side="candidate"
      event={row.id}
      path={pair[i].path}
      frame={at}
      width={640}
      look={row.look}
      alt={`Candidate ${pair[i].fileName}`}
      empty="no such frame"
      className="w-full h-full"
    />
  );
  return (
    <figure className="text-xs">
      <div className="relative aspect-video bg-black">
        <div className="absolute inset-0">{picture(0)}</div>
        {how !== 0 && (
          <div className="absolute inset-0" style={{ opacity: how === 'both' ? 0.5 : 1 }}>
            {picture(1)}
          </div>
        )}
      </div>
      <figcaption className="flex gap-1 items-center pt-1">
        <button type="button" className="btn btn-xs" title="B" onClick={() => setHow(how === 0 ? 1 : 0)}>
          Flick
        </button>
        <button type="button" className="btn btn-xs" aria-pressed={how === 'both'} onClick={() => setHow(how === 'both' ? 0 : 'both')}>
          Blend
        </button>
        <span className="quiet truncate">
          {how === 'both' ? 'both' : pair[how].path.split('/').slice(-2).join(' / ')}{' '}
          {how !== 'both' && `${pair[how].raster.width}×${pair[how].raster.height}`}
        </span>
      </figcaption>
    </figure>
  );
}
