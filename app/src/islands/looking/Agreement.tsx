import type { Rate } from '@gemello/core';
import { LINES } from '@gemello/core/proof';
import { formatTimecode } from '@gemello/core/time';
import { line as lineThrough, scaleLinear } from 'd3';
import type { LedgerRow } from '../../contract';
import { useEvent } from '../data/queries';
import { frameIn, useView } from '../data/view';
import { useWidth } from '../parts/useWidth';

const HEIGHT = 190;
const EDGE = { top: 8, right: 8, bottom: 22, left: 40 };

/** How the event agrees with the reference, along its frames: the proof's correlation between the lines it judges by. A click moves the playhead. */
export function Agreement({ job, row, rate }: { job: string; row: LedgerRow; rate: Rate }) {
  const { data: event } = useEvent(job, row.id);
  const [ref, width] = useWidth<HTMLElement>();
  const { frame, moveTo } = useView();
  const trace = event?.trace;
  if (!trace?.some((score) => score !== null)) return null;
  const { in: from, out } = row.recordFrames;
  const x = scaleLinear()
    .domain([from, out])
    .range([EDGE.left, Math.max(EDGE.left + 1, width - EDGE.right)]);
  const y = scaleLinear()
    .domain([0, 1])
    .range([HEIGHT - EDGE.bottom, EDGE.top])
    .clamp(true);
  const middle = (i: number) => from + ((i + 0.5) * (out - from)) / trace.length;
  const path = lineThrough<number | null>()
    .defined((score) => score !== null)
    .x((_, i) => x(middle(i)))
    .y((score) => y(score ?? 0))([...trace]);
  const at = frameIn(row, frame);
  const score = trace[Math.min(trace.length - 1, Math.floor(((at - from) * trace.length) / (out - from)))] ?? null;
  return (
    <figure className="text-xs" ref={ref}>
      <figcaption className="flex gap-3 pb-1">
        <span className="font-medium">Agreement with the reference</span>
        <span className="quiet tc">
          {formatTimecode(at, rate)}: {score === null ? 'not compared' : score.toFixed(3)} of 1
        </span>
        <span className="quiet">{`same from ${LINES.same}, another picture below ${LINES.other}`}</span>
        {row.proof?.stale && <span className="quiet">from before the last change</span>}
      </figcaption>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the transport above moves the playhead by keyboard */}
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label="Agreement with the reference along the event"
        className="block bg-base-200 cursor-pointer"
        onClick={(e) => {
          const into = Math.floor(x.invert(e.clientX - e.currentTarget.getBoundingClientRect().left));
          moveTo(Math.max(from, Math.min(out - 1, into)));
        }}
      >
        {[
          { value: 1, says: '1' },
          { value: LINES.same, says: String(LINES.same) },
          { value: LINES.other, says: String(LINES.other) },
          { value: 0, says: '0' },
        ].map(({ value, says }) => (
          <g key={says} transform={`translate(0,${y(value)})`}>
            <line
              x1={EDGE.left}
              x2={width - EDGE.right}
              stroke="currentColor"
              opacity={0.2}
              strokeDasharray={value % 1 ? '3 3' : undefined}
            />
            <text x={EDGE.left - 6} y={4} textAnchor="end" fontSize={12} fill="currentColor" opacity={0.75}>
              {says}
            </text>
          </g>
        ))}
        <path d={path ?? ''} fill="none" stroke={row.proof?.stale ? 'var(--state-exempt)' : 'currentColor'} strokeWidth={1.6} />
        <line x1={x(at)} x2={x(at)} y1={EDGE.top} y2={HEIGHT - EDGE.bottom} stroke="var(--color-accent)" strokeWidth={1.5} />
        <text x={EDGE.left} y={HEIGHT - 7} fontSize={12} className="tc" fill="currentColor" opacity={0.75}>
          {formatTimecode(from, rate)}
        </text>
        <text x={width - EDGE.right} y={HEIGHT - 7} textAnchor="end" fontSize={12} className="tc" fill="currentColor" opacity={0.75}>
          {formatTimecode(out - 1, rate)}
        </text>
      </svg>
    </figure>
  );
}
