import { formatTimecode, type Rate, secondsOf } from '@gemello/core/time';
import { useVirtualizer } from '@tanstack/react-virtual';
import { scaleLinear } from 'd3';
import { useMemo, useRef } from 'react';
import type { OriginalRow } from '../../../contract';
import { useWidth } from '../../parts/Ribbon';
import { laneOf, type ReelLine, reelLines, reelScale } from './lines';

const LANE = 13;
const HEAD = 20;
const MOST_LANES = 4;

/** Each reel as a line of timecode, its clips to scale; what overlaps stands in lanes, what the cut uses is filled. */
export function Reels({
  originals,
  chosen,
  onChoose,
}: {
  originals: readonly OriginalRow[];
  chosen: string | null;
  onChoose: (path: string) => void;
}) {
  const lines = useMemo(() => reelLines(originals), [originals]);
  const scroller = useRef<HTMLElement>(null);
  const [ref, width] = useWidth<HTMLDivElement>();
  const heightOf = (i: number) => HEAD + Math.min(MOST_LANES, lines[i]?.lanes ?? 1) * (LANE + 3) + 10;
  const virtual = useVirtualizer({ count: lines.length, getScrollElement: () => scroller.current, estimateSize: heightOf, overscan: 4 });
  const untimed = originals.filter((o) => o.start === null && o.kind !== 'still').length;
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
    <section ref={scroller} className="grow min-h-0 overflow-y-auto text-xs px-3" aria-label="Reels" tabIndex={0}>
      <p className="quiet py-1.5">
        Outlines are clips, fillings the parts the cut uses; gaps are drawn short. Clips that share timecode stand in lanes, {'in '}
        <span className="text-warning">ochre</span>.{untimed > 0 && ` ${untimed} clips without timecode are not drawn.`}
      </p>
      <div ref={ref} style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const line = lines[index];
          return (
            line && (
              <div key={line.key} style={{ position: 'absolute', top: start, left: 0, right: 0 }}>
                <Line line={line} width={width} chosen={chosen} onChoose={onChoose} />
              </div>
            )
          );
        })}
      </div>
    </section>
  );
}

/** A length of time in the largest unit that says something: `45 s`, `12 min`, `2.1 h`. */
function minutesText(frames: number, rate: Rate): string {
  const seconds = secondsOf(frames, rate);
  if (seconds < 90) return `${Math.round(seconds)} s`;
  return seconds < 5400 ? `${Math.round(seconds / 60)} min` : `${(seconds / 3600).toFixed(1)} h`;
}

function Line({
  line,
  width,
  chosen,
  onChoose,
}: {
  line: ReelLine;
  width: number;
  chosen: string | null;
  onChoose: (path: string) => void;
}) {
  const scale = useMemo(() => reelScale(line, Math.max(1, width)), [line, width]);
  const x = scaleLinear().domain(scale.frames).range(scale.pixels);
  const lanes = Math.min(MOST_LANES, line.lanes);
  const label = (frame: number) => formatTimecode(frame, line.rate);
  return (
    <>
      <div className="flex gap-3 items-baseline" style={{ height: HEAD }}>
        <span className="tc font-medium">{line.reel || 'no reel'}</span>
        <span className="quiet">
          {line.clips.length} {line.clips.length === 1 ? 'clip' : 'clips'}
          {line.gaps > 0 && `, ${line.gaps} ${line.gaps === 1 ? 'gap' : 'gaps'}`}
          {line.overlaps > 0 && `, ${line.overlaps} overlapping`}
        </span>
        <span className="tc quiet ml-auto">
          {label(line.from)} – {label(line.to)}
        </span>
      </div>
      <svg width={width} height={lanes * (LANE + 3)} role="img" aria-label={`Reel ${line.reel}, ${line.clips.length} clips`}>
        {scale.breaks.map((b) => (
          <g key={b.from}>
            <title>{`${label(b.frames)} without a clip`}</title>
            <line
              x1={b.from + 2}
              x2={b.to - 2}
              y1={LANE / 2 + 1}
              y2={LANE / 2 + 1}
              stroke="currentColor"
              strokeOpacity={0.35}
              strokeDasharray="1 4"
            />
            {b.to - b.from > 30 && (
              <text x={(b.from + b.to) / 2} y={LANE - 1} textAnchor="middle" fontSize={8} fill="currentColor" fillOpacity={0.7}>
                {minutesText(b.frames, line.rate)}
              </text>
            )}
          </g>
        ))}
        {line.clips.map((clip) => {
          const left = x(clip.start);
          const wide = Math.max(3, x(clip.start + clip.frames) - left);
          const top = laneOf(clip, lanes) * (LANE + 3) + 1;
          const colour = clip.overlaps ? 'var(--state-short)' : 'currentColor';
          return (
            // biome-ignore lint/a11y/noStaticElementInteractions: the table of the same clips is the way by keyboard
            <g key={clip.path} onClick={() => onChoose(clip.path)} className="cursor-pointer">
              <title>{`${clip.fileName}  ${label(clip.start)}  ${clip.frames} frames`}</title>
              <rect
                x={left + 0.5}
                y={top}
                width={Math.max(2, wide - 1)}
                height={LANE - 1}
                fill={clip.path === chosen ? 'var(--color-base-300)' : 'var(--color-base-200)'}
                stroke={colour}
                strokeOpacity={clip.path === chosen ? 1 : 0.55}
                strokeWidth={clip.path === chosen ? 2 : 1}
                strokeDasharray={clip.here ? undefined : '3 2'}
              />
              {clip.used.map((u) => (
                <rect
                  key={u.id}
                  x={x(clip.start + u.from)}
                  y={top + 3}
                  width={Math.max(1.5, x(clip.start + u.to) - x(clip.start + u.from))}
                  height={LANE - 7}
                  fill="var(--state-paired)"
                />
              ))}
            </g>
          );
        })}
      </svg>
    </>
  );
}
