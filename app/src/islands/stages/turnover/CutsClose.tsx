import { formatTimecode } from '@gemello/core/time';
import type { CutsView, MarkView } from '../../../contract';
import { useWidth } from '../../parts/useWidth';

const HEIGHT = 74;
/** Frames to either side of the mark that is looked at. */
const AROUND = 36;

interface Props {
  readonly movie: NonNullable<CutsView['movie']>;
  readonly change: readonly number[];
  readonly marks: readonly MarkView[];
  readonly at: number;
  readonly onAdd: (frame: number) => void;
  readonly onChoose: (frame: number) => void;
}

/** The frames around a mark, one column each: a click sets a mark before that frame, or goes to the one that is there. */
export function CutsClose({ movie, change, marks, at, onAdd, onChoose }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const frames = Array.from({ length: 2 * AROUND + 1 }, (_, i) => at - AROUND + i).filter((n) => n >= 0 && n < movie.frames);
  const column = width / Math.max(1, frames.length);
  return (
    <div ref={ref} className="text-xs">
      <p className="quiet pb-1">The frames around it: click one to set a mark before it.</p>
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label="Frames around the mark" className="block bg-base-200">
          {frames.map((n, i) => {
            const mark = marks.find((m) => m.frame === n || (n > m.frame && n < m.frame + m.frames));
            const value = Math.sqrt((change[n] ?? 0) / 100);
            const timecode = formatTimecode(movie.start + n, movie.rate);
            return (
              // biome-ignore lint/a11y/noStaticElementInteractions: marks are set by keyboard in the list beside, by −1 and +1
              <g key={n} className="cursor-pointer" onClick={() => (mark ? onChoose(mark.frame) : onAdd(n))}>
                <title>{mark ? `${timecode}: a mark` : `${timecode}: set a mark before this frame`}</title>
                <rect
                  x={i * column}
                  width={column}
                  height={HEIGHT}
                  fill={mark ? 'var(--color-accent)' : 'transparent'}
                  fillOpacity={mark ? (mark.frame === at ? 0.35 : 0.18) : 0}
                />
                <rect
                  x={i * column + column * 0.2}
                  width={column * 0.6}
                  y={HEIGHT - 4 - value * (HEIGHT - 12)}
                  height={4 + value * (HEIGHT - 12)}
                  fill="currentColor"
                  opacity={0.8}
                />
              </g>
            );
          })}
        </svg>
      )}
    </div>
  );
}
