import { formatTimecode } from '@gemello/core/time';
import { scaleLinear } from 'd3';
import { useMemo, useState } from 'react';
import type { CutsView, MarkView } from '../../../contract';
import { useWidth } from '../../parts/useWidth';

const HEIGHT = 150;
const EDGE = { top: 8, bottom: 20 };

interface Props {
  readonly movie: NonNullable<CutsView['movie']>;
  readonly change: readonly number[];
  readonly marks: readonly MarkView[];
  readonly chosen: number | null;
  readonly threshold: number;
  readonly onThreshold: (threshold: number) => void;
  readonly onChoose: (frame: number) => void;
}

/** How much the picture changes, along the whole movie: the highest of the frames that share a column. The threshold is dragged; a click goes to the nearest mark. */
export function CutsChart({ movie, change, marks, chosen, threshold, onThreshold, onChoose }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const [dragging, setDragging] = useState(false);
  const x = scaleLinear().domain([0, movie.frames]).range([0, width]);
  // Most of what movement does lies far below what cuts do: the root draws it apart.
  const y = scaleLinear([0, 1], [HEIGHT - EDGE.bottom, EDGE.top]).clamp(true);
  const height = (value: number) => y(Math.sqrt(value));
  const columns = useMemo(() => {
    const out = new Array<number>(Math.max(1, Math.floor(width))).fill(0);
    change.forEach((v, n) => {
      const at = Math.min(out.length - 1, Math.floor((n * out.length) / change.length));
      out[at] = Math.max(out[at] ?? 0, v / 100);
    });
    return out;
  }, [change, width]);
  const valueAt = (clientY: number, top: number) => {
    const share = y.invert(clientY - top);
    return Math.max(0.02, Math.min(1, Math.round(100 * share * share) / 100));
  };
  const path = columns.map((v, i) => (v > 0 ? `M${i + 0.5} ${y(0)}V${height(v)}` : '')).join('');
  return (
    <div className="text-xs space-y-1" ref={ref}>
      <label className="flex items-center gap-2">
        <span className="font-medium">Change of picture</span>
        <span className="quiet">a mark where it is above</span>
        <input
          type="range"
          aria-label="Threshold"
          className="range range-xs w-48"
          min={2}
          max={100}
          value={Math.round(threshold * 100)}
          onChange={(e) => onThreshold(Number(e.target.value) / 100)}
        />
        <span className="tc">{threshold.toFixed(2)}</span>
      </label>
      {width > 0 && (
        // biome-ignore lint/a11y/useKeyWithClickEvents: the list of marks beside does the same by keyboard
        <svg
          width={width}
          height={HEIGHT}
          role="img"
          aria-label="Change of picture along the movie"
          className="block bg-base-200 cursor-pointer"
          onPointerMove={(e) => dragging && onThreshold(valueAt(e.clientY, e.currentTarget.getBoundingClientRect().top))}
          onPointerUp={() => setDragging(false)}
          onClick={(e) => {
            const frame = x.invert(e.clientX - e.currentTarget.getBoundingClientRect().left);
            const nearest = marks.reduce<MarkView | null>(
              (best, m) => (!best || Math.abs(m.frame - frame) < Math.abs(best.frame - frame) ? m : best),
              null,
            );
            if (nearest) onChoose(nearest.frame);
          }}
        >
          {marks.map((m) =>
            m.kind === 'cut' ? (
              <line
                key={m.frame}
                x1={x(m.frame)}
                x2={x(m.frame)}
                y1={HEIGHT - EDGE.bottom}
                y2={HEIGHT - EDGE.bottom + 7}
                stroke="var(--color-accent)"
                strokeWidth={m.frame === chosen ? 3 : 1.5}
              />
            ) : (
              <rect
                key={m.frame}
                x={x(m.frame)}
                width={Math.max(2, x(m.frame + m.frames) - x(m.frame))}
                y={HEIGHT - EDGE.bottom + 1}
                height={5}
                fill="var(--color-accent)"
                opacity={m.frame === chosen ? 1 : 0.7}
              />
            ),
          )}
          <path d={path} stroke="currentColor" strokeWidth={1} opacity={0.8} />
          <g
            className="cursor-ns-resize"
            onPointerDown={(e) => {
              e.currentTarget.ownerSVGElement?.setPointerCapture(e.pointerId);
              setDragging(true);
            }}
          >
            <rect x={0} width={width} y={height(threshold) - 6} height={12} fill="transparent" />
            <line x1={0} x2={width} y1={height(threshold)} y2={height(threshold)} stroke="var(--color-accent)" strokeDasharray="6 4" />
          </g>
          {chosen !== null && (
            <line x1={x(chosen)} x2={x(chosen)} y1={EDGE.top} y2={HEIGHT - EDGE.bottom} stroke="var(--color-accent)" opacity={0.6} />
          )}
          <text x={2} y={HEIGHT - 4} fontSize={12} className="tc" fill="currentColor" opacity={0.75}>
            {formatTimecode(movie.start, movie.rate)}
          </text>
          <text x={width - 2} y={HEIGHT - 4} textAnchor="end" fontSize={12} className="tc" fill="currentColor" opacity={0.75}>
            {formatTimecode(movie.start + movie.frames, movie.rate)}
          </text>
        </svg>
      )}
    </div>
  );
}
