import { formatTimecode, type Rate, secondsOf } from '@gemello/core/time';
import { plural } from '@gemello/core/words';
import { useVirtualizer } from '@tanstack/react-virtual';
import { scaleLinear } from 'd3';
import { useMemo, useRef, useState } from 'react';
import type { OriginalRow } from '../../../contract';
import { useWidth } from '../../parts/useWidth';
import { laneOf, type PlacedClip, type ReelLine, type ReelScale, reelLines, reelScale } from './lines';

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
        An outline is a clip; the filled part is used by the cut. Gaps between clips are shortened. Clips that share timecode are stacked in
        lanes and drawn in <span className="text-warning">ochre</span>.{untimed > 0 && ` ${untimed} clips without timecode are not drawn.`}
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

const box = (x: number, y: number, width: number, height: number) =>
  `M${x.toFixed(1)} ${y}h${width.toFixed(1)}v${height}h${(-width).toFixed(1)}z`;

interface LineProps {
  readonly line: ReelLine;
  readonly width: number;
  readonly chosen: string | null;
  readonly onChoose: (path: string) => void;
}

/** One reel. All clips of a kind are one path: a reel may hold hundreds, and they must scroll lightly. */
function Line({ line, width, chosen, onChoose }: LineProps) {
  const [under, setUnder] = useState<PlacedClip | null>(null);
  const scale = useMemo(() => reelScale(line, Math.max(1, width)), [line, width]);
  const lanes = Math.min(MOST_LANES, line.lanes);
  const drawn = useMemo(() => {
    const x = scaleLinear().domain(scale.frames).range(scale.pixels);
    const boxes = line.clips.map((clip) => {
      const left = x(clip.start);
      return { clip, left, wide: Math.max(3, x(clip.start + clip.frames) - left), top: laneOf(clip, lanes) * (LANE + 3) + 1 };
    });
    const path = (which: (clip: PlacedClip) => boolean) =>
      boxes
        .filter((b) => which(b.clip))
        .map((b) => box(b.left + 0.5, b.top, Math.max(2, b.wide - 1), LANE - 1))
        .join('');
    const used = boxes.flatMap((b) =>
      b.clip.used.map((u) => {
        const from = x(b.clip.start + u.from);
        return box(from, b.top + 3, Math.max(1.5, x(b.clip.start + u.to) - from), LANE - 7);
      }),
    );
    return {
      boxes,
      here: path((c) => c.here && !c.overlaps),
      overlapping: path((c) => c.here && c.overlaps),
      away: path((c) => !c.here),
      used: used.join(''),
    };
  }, [line, scale, lanes]);
  const at = (e: React.MouseEvent<SVGSVGElement>): PlacedClip | null => {
    const { left, top } = e.currentTarget.getBoundingClientRect();
    const [px, py] = [e.clientX - left, e.clientY - top];
    return drawn.boxes.find((b) => px >= b.left - 1 && px <= b.left + b.wide + 1 && py >= b.top - 1 && py <= b.top + LANE)?.clip ?? null;
  };
  const label = (frame: number) => formatTimecode(frame, line.rate);
  const picked = drawn.boxes.find((b) => b.clip.path === chosen);
  return (
    <>
      <div className="flex gap-3 items-baseline" style={{ height: HEAD }}>
        <span className="tc font-medium">{line.reel || 'no reel'}</span>
        <span className="quiet">
          {plural(line.clips.length, 'clip')}
          {line.gaps > 0 && `, ${plural(line.gaps, 'gap')}`}
          {line.overlaps > 0 && `, ${line.overlaps} overlapping`}
        </span>
        {under && (
          <span className="tc truncate">
            {under.fileName} {label(under.start)}, {under.frames} frames
          </span>
        )}
        <span className="tc quiet ml-auto">
          {label(line.from)} – {label(line.to)}
        </span>
      </div>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the table of the same clips is the way by keyboard */}
      <svg
        width={width}
        height={lanes * (LANE + 3)}
        role="img"
        aria-label={`Reel ${line.reel}, ${line.clips.length} clips`}
        className={under ? 'cursor-pointer' : ''}
        onMouseMove={(e) => setUnder(at(e))}
        onMouseLeave={() => setUnder(null)}
        onClick={(e) => {
          const clip = at(e);
          if (clip) onChoose(clip.path);
        }}
      >
        <Breaks scale={scale} rate={line.rate} />
        <path d={drawn.here} fill="var(--color-base-200)" stroke="currentColor" strokeOpacity={0.55} />
        <path d={drawn.overlapping} fill="var(--color-base-200)" stroke="var(--state-short)" />
        <path d={drawn.away} fill="none" stroke="var(--state-away)" strokeDasharray="3 2" />
        <path d={drawn.used} fill="var(--state-paired)" />
        {picked && (
          <path d={box(picked.left, picked.top - 0.5, picked.wide, LANE)} fill="none" stroke="var(--color-accent)" strokeWidth={2} />
        )}
      </svg>
    </>
  );
}

/** The gaps that are drawn short, with how long they last where there is room to say it. */
function Breaks({ scale, rate }: { scale: ReelScale; rate: Rate }) {
  const middle = LANE / 2 + 1;
  return (
    <>
      <path
        d={scale.breaks.map((b) => `M${(b.from + 2).toFixed(1)} ${middle}H${(b.to - 2).toFixed(1)}`).join('')}
        stroke="currentColor"
        strokeOpacity={0.35}
        strokeDasharray="1 4"
      />
      {scale.breaks
        .filter((b) => b.to - b.from > 30)
        .map((b) => (
          <text key={b.from} x={(b.from + b.to) / 2} y={LANE - 1} textAnchor="middle" fontSize={8} fill="currentColor" fillOpacity={0.7}>
            {minutesText(b.frames, rate)}
          </text>
        ))}
    </>
  );
}
