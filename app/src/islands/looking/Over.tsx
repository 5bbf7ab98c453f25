import { formatTimecode, type Rate } from '@gemello/core/time';
import { useLooking } from '../data/looking';
import type { Pair, Told } from '../viewing/viewer';
import type { SideShown } from './sides';
import type { CompareMode } from './ways';

/** Safe action and safe title areas, as shares of width and height (SMPTE ST 2046-1). */
const AREAS = [0.93, 0.9] as const;

interface Props {
  readonly sides: Pair<SideShown>;
  readonly told: Told;
  readonly facing: boolean;
  readonly mode: CompareMode;
  readonly front: 'a' | 'b';
  readonly rate: Rate;
  /** True while what is seen is still what was asked for before. */
  readonly waits: boolean;
}

/** What lies over the pictures: which side is which, names and timecodes, safe areas, and what is not to be seen. */
export function Over({ sides, told, facing, mode, front, rate, waits }: Props) {
  const { names, areas } = useLooking();
  /** The sides that are seen; where both are mixed into one picture, neither is named in it. */
  const seen: readonly (0 | 1)[] = mode === 'swap' ? [front === 'a' ? 0 : 1] : [0, 1];
  const over = facing || mode === 'swap' || mode === 'split' ? seen : [];
  return (
    <div className="absolute inset-0 pointer-events-none text-xs">
      {over.map((i) => (
        <div
          key={i}
          className="absolute top-0 bottom-0 overflow-hidden"
          style={facing ? { left: i === 0 ? 0 : '50.2%', width: '49.8%' } : { left: 0, right: 0 }}
        >
          <Chip side={sides[i]} waits={waits} right={!facing && i === 1} />
          {facing && told.unseen[i] !== null && (
            <p className="absolute inset-0 grid place-items-center p-4 text-center text-neutral-300">
              {told.unseen[i] || 'No picture here'}
            </p>
          )}
          {names && <Names told={told} side={i} of={sides[i]} rate={rate} right={!facing && i === 1} />}
        </div>
      ))}
      {!facing && seen.some((i) => told.unseen[i]) && (
        <div className="absolute inset-0 grid place-content-center gap-1 p-4 text-center text-neutral-300">
          {seen.map((i) => told.unseen[i] && <p key={i} className="bg-black/70 px-2 py-1">{`${sides[i].says}: ${told.unseen[i]}`}</p>)}
        </div>
      )}
      {areas && (
        <svg className="absolute inset-0 w-full h-full" viewBox="0 0 100 100" preserveAspectRatio="none" role="presentation">
          {(facing ? [0, 50.2] : [0]).map((left) =>
            AREAS.map((share) => (
              <rect
                key={`${left} ${share}`}
                x={left + ((1 - share) / 2) * (facing ? 49.8 : 100)}
                y={((1 - share) / 2) * 100}
                width={share * (facing ? 49.8 : 100)}
                height={share * 100}
                fill="none"
                stroke="#fff"
                strokeOpacity={0.6}
                strokeDasharray={share === AREAS[0] ? undefined : '5 3'}
                vectorEffect="non-scaling-stroke"
              />
            )),
          )}
        </svg>
      )}
    </div>
  );
}

/** The word that each side carries; the reference's has its own colour, so that the two cannot be confused. */
function Chip({ side, waits, right }: { side: SideShown; waits: boolean; right: boolean }) {
  const style =
    side.seen.of === 'reference'
      ? { background: 'var(--reference)', color: 'var(--reference-content)' }
      : { background: 'rgb(0 0 0 / 0.6)', color: '#e8e8e8' };
  return (
    <span className={`absolute top-0 px-1.5 font-medium max-w-full truncate ${right ? 'right-0' : 'left-0'}`} style={style}>
      {waits ? `${side.says}: its picture is on the way` : side.says}
    </span>
  );
}

function Names({ told, side, of, rate, right }: { told: Told; side: 0 | 1; of: SideShown; rate: Rate; right: boolean }) {
  return (
    <div
      className={`absolute bottom-0 px-1.5 tc max-w-full ${right ? 'right-0 text-right' : 'left-0'}`}
      style={{ background: 'rgb(0 0 0 / 0.6)', color: '#e8e8e8' }}
    >
      {namesOf(told, side, of, rate).map((line) => (
        <p key={line} className="truncate">
          {line}
        </p>
      ))}
    </div>
  );
}

/** Record timecode, and of each clip that stands there the event, source timecode, reel and name. */
export function namesOf({ frames, stands }: Pick<Told, 'frames' | 'stands'>, side: 0 | 1, { seen }: SideShown, rate: Rate): string[] {
  const record = formatTimecode(Math.max(0, frames[side]), rate);
  if (seen.of === 'reference') return [record];
  return [
    record,
    ...stands[side].map((s) => [s.number, s.source ?? `frame ${s.sourceFrame}`, s.reel, s.fileName].filter((w) => w !== '').join('  ')),
  ];
}
