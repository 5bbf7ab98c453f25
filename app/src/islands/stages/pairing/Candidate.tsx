import { plural } from '@gemello/core/words';
import type { ContenderView, LedgerRow } from '../../../contract';
import { Picture } from '../../parts/Picture';

const SPEAKS = { agrees: 'agrees', loosely: 'partly', disagrees: 'conflicts', unknown: 'not stated' } as const;
const WEIGHT = {
  agrees: 'var(--state-paired)',
  loosely: 'var(--state-proposed)',
  disagrees: 'var(--state-unpaired)',
  unknown: 'var(--state-exempt)',
} as const;

/** Where an event would begin in an original; the list may ask for what lies outside of it. */
const usedFrom = (frame: number, frames: number): string =>
  frame < 0 || frame >= frames ? 'which do not reach the source in' : `used from frame ${frame}`;

/** What neither list nor original says anything of is left out, but for what pairs are made by. */
const isWorthSaying = ({ criterion, result }: ContenderView['evidence'][number]): boolean =>
  result !== 'unknown' || criterion === 'reel' || criterion === 'name' || criterion === 'timecode';

interface Props {
  readonly job: string;
  readonly row: LedgerRow;
  readonly contender: ContenderView;
  readonly at: number;
  /** True for the one that Enter would take. */
  readonly current: boolean;
  /** True for the one that is accepted. */
  readonly taken: boolean;
  /** The frame of the original that is shown, from 0, where it is no candidate of the event; else the one that stands at the playhead. */
  readonly frame?: number;
  readonly onTake?: () => void;
  readonly children?: React.ReactNode;
}

/** One candidate: its picture at the playhead, what it is, and how each criterion speaks. */
export function Candidate({ job, row, contender: c, at, current, taken, frame, onTake, children }: Props) {
  return (
    <article
      className={`grid grid-cols-[150px_1fr] gap-3 p-2 bg-base-200 border-l-2 ${current ? 'border-accent' : 'border-transparent'}`}
      data-candidate={c.path}
      aria-current={current}
    >
      <Picture
        job={job}
        {...(frame === undefined ? ({ side: 'candidate', event: row.id, frame: at } as const) : ({ side: 'original', frame } as const))}
        path={c.path}
        width={320}
        look={row.look}
        alt={`Candidate ${c.fileName}`}
        empty="no such frame"
      />
      <div className="min-w-0 text-xs">
        <div className="flex gap-2 items-baseline">
          <span className="truncate" title={c.path}>
            <span className="quiet">{c.path.split('/').at(-2)} / </span>
            <span className="font-medium">{c.fileName}</span>
          </span>
          <span className="tc quiet shrink-0">
            {c.raster.width}×{c.raster.height}
          </span>
          {children}
          {onTake && !taken && (
            <button type="button" className="btn btn-xs ml-auto" onClick={onTake}>
              Pair with this
            </button>
          )}
          {taken && <span className="ml-auto quiet">accepted</span>}
        </div>
        <p className="quiet">
          {c.reel || 'no reel'} {c.timecodeIn ?? 'no timecode'} {plural(c.frames, 'frame')}, {usedFrom(c.sourceStartFrame, c.frames)}
        </p>
        <dl className="grid grid-cols-[4.5rem_4rem_1fr] gap-x-2 mt-1">
          {c.evidence.filter(isWorthSaying).map((e) => (
            <div key={e.criterion} className="contents">
              <dt className="quiet">{e.criterion}</dt>
              <dd style={{ color: WEIGHT[e.result] }}>{SPEAKS[e.result]}</dd>
              <dd className="truncate" title={e.detail}>
                {e.detail}
              </dd>
            </div>
          ))}
        </dl>
      </div>
    </article>
  );
}
