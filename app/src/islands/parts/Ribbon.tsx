import type { Verdict } from '@gemello/core';
import { verdictText } from '@gemello/core/proof';
import { formatTimecode, nominal, type Rate } from '@gemello/core/time';
import { scaleLinear } from 'd3';
import { useState } from 'react';
import type { JobSummary, LedgerRow, LedgerView } from '../../contract';
import { eventName } from '../data/events';
import { useTraces } from '../data/queries';
import { chosenRow, frameIn, useView } from '../data/view';
import { Glyph, stateColour } from './Glyph';
import { useWidth } from './useWidth';
import { VERDICT_COLOUR } from './VerdictMark';

const LANE = 15;
const TRACE = 22;
const RULER = 16;

/** Steps of a ruler, in seconds; below a second, in frames. */
const SECONDS = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600];
const FRAMES = [1, 2, 5, 10];

/** The frames of a span that stand at round times, at most about `most` of them. */
function roundTimes(from: number, to: number, rate: Rate, most: number): number[] {
  const second = nominal(rate);
  const steps = [...FRAMES.filter((n) => n < second), ...SECONDS.map((n) => n * second)];
  const step = steps.find((n) => (to - from) / n <= most) ?? Math.ceil((to - from) / most);
  const first = Math.ceil(from / step) * step;
  return Array.from({ length: Math.max(0, Math.ceil((to - first) / step)) }, (_, i) => first + i * step);
}

/**
 * The whole cut to scale: layers on top of one another, filled by state, the proof's score below.
 * A click moves the playhead; a drag along the ruler zooms; a double click shows the whole cut again.
 */
export function Ribbon({ job, ledger }: { job: string; ledger: LedgerView }) {
  const { data: traces } = useTraces(job);
  const [ref, width, element] = useWidth<HTMLDivElement>();
  const { stage, event, frame: moved, zoom, choose, moveTo, zoomTo } = useView();
  const [brush, setBrush] = useState<[number, number] | null>(null);
  const { span, rows, rate } = ledger;
  const [from, to] = zoom ?? [span.in, span.out];
  const x = scaleLinear().domain([from, to]).range([0, width]);
  const layers = [...new Set(rows.map((r) => r.track))].sort().reverse();
  const laneTop = RULER + 2;
  const traceTop = laneTop + layers.length * (LANE + 2) + 2;
  const height = traceTop + TRACE;
  const chosen = chosenRow(ledger, event);
  const frame = moved ?? (chosen && frameIn(chosen, null));
  const frameOf = (clientX: number) =>
    Math.max(span.in, Math.min(span.out - 1, Math.floor(x.invert(clientX - (element?.getBoundingClientRect().left ?? 0)))));
  const pick = (clientX: number, clientY: number) => {
    const at = frameOf(clientX);
    const lane = Math.floor((clientY - (element?.getBoundingClientRect().top ?? 0) - laneTop) / (LANE + 2));
    const here = rows.filter((r) => at >= r.recordFrames.in && at < r.recordFrames.out);
    const row = here.find((r) => r.track === layers[lane]) ?? here[0];
    if (row) choose(row.id, at);
    else moveTo(at);
  };
  const endBrush = () => {
    if (brush && Math.abs(brush[1] - brush[0]) > 8) zoomTo([Math.min(...brush), Math.max(...brush)]);
    setBrush(null);
  };
  return (
    <div ref={ref} className="select-none">
      {width > 0 && (
        // biome-ignore lint/a11y/useKeyWithClickEvents: arrows, J K L and the ledger move the playhead by keyboard
        <svg
          width={width}
          height={height}
          role="img"
          aria-label="The cut, every event to scale"
          onClick={(e) => pick(e.clientX, e.clientY)}
          onDoubleClick={() => zoomTo(null)}
          className="block cursor-pointer"
        >
          <title>Click: playhead. Drag on the times: zoom. Double click: whole cut.</title>
          <g
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              setBrush([frameOf(e.clientX), frameOf(e.clientX)]);
            }}
            onPointerMove={(e) => brush && setBrush([brush[0], frameOf(e.clientX)])}
            onPointerUp={endBrush}
            className="cursor-ew-resize"
          >
            <rect width={width} height={RULER} fill="transparent" />
            {roundTimes(from, to, rate, Math.max(2, Math.floor(width / 130))).map((t) => (
              <g key={t} transform={`translate(${x(t)},0)`}>
                <line y1={RULER - 4} y2={height} stroke="currentColor" opacity={0.13} />
                {x(t) < width - 80 && (
                  <text x={3} y={11} className="tc" fontSize={12} fill="currentColor" opacity={0.72}>
                    {formatTimecode(t, rate)}
                  </text>
                )}
              </g>
            ))}
          </g>
          {rows.map((row) => (
            <Block
              key={row.id}
              row={row}
              x={x}
              y={laneTop + layers.indexOf(row.track) * (LANE + 2)}
              chosen={row.id === chosen?.id}
              byVerdict={stage === 'proof'}
            />
          ))}
          <line x1={0} x2={width} y1={traceTop + TRACE - 1} y2={traceTop + TRACE - 1} stroke="currentColor" opacity={0.25} />
          {rows.map((row) => (
            <Trace key={row.id} row={row} trace={traces?.[row.id]} x={x} top={traceTop} />
          ))}
          {brush && (
            <rect
              x={Math.min(x(brush[0]), x(brush[1]))}
              width={Math.abs(x(brush[1]) - x(brush[0]))}
              height={height}
              fill="currentColor"
              opacity={0.15}
            />
          )}
          {frame !== null && (
            <g transform={`translate(${x(frame)},0)`} pointerEvents="none">
              <line y2={height} stroke="var(--color-accent)" strokeWidth={1.5} />
              <path d="M-4 0h8v5l-4 5-4-5Z" fill="var(--color-accent)" />
            </g>
          )}
        </svg>
      )}
    </div>
  );
}

type Scale = (frame: number) => number;

function Block({ row, x, y, chosen, byVerdict }: { row: LedgerRow; x: Scale; y: number; chosen: boolean; byVerdict: boolean }) {
  const left = x(row.recordFrames.in);
  const width = Math.max(1, x(row.recordFrames.out) - left - 1);
  const solid = row.state === 'paired';
  const verdict = byVerdict && row.proof && !row.proof.stale ? row.proof.verdict : null;
  if (verdict) return <Judged row={row} verdict={verdict} left={left} width={width} y={y} chosen={chosen} />;
  return (
    <g transform={`translate(${left},${y})`}>
      <title>{`${row.number}  ${eventName(row)}  ${row.state}`}</title>
      <rect
        width={width}
        height={LANE}
        rx={1.5}
        fill={stateColour(row.state)}
        fillOpacity={solid ? 0.9 : 0.28}
        stroke={chosen ? 'var(--color-base-content)' : stateColour(row.state)}
        strokeWidth={chosen ? 1.8 : 1}
        strokeDasharray={row.state === 'doubtful' || row.state === 'away' ? '3 2' : undefined}
      />
      {width > 34 && !solid && row.state !== 'proposed' && (
        <g transform="translate(2,1.5)">
          <Glyph state={row.state} size={19} />
        </g>
      )}
    </g>
  );
}

/** An event under Proof, by what was found: whole where it is the same, set off where it differs, broken where it cannot be told. */
function Judged({
  row,
  verdict,
  left,
  width,
  y,
  chosen,
}: {
  row: LedgerRow;
  verdict: Verdict;
  left: number;
  width: number;
  y: number;
  chosen: boolean;
}) {
  const colour = VERDICT_COLOUR[verdict];
  return (
    <g transform={`translate(${left},${y})`}>
      <title>{`${row.number}  ${eventName(row)}  ${verdictText(verdict)}`}</title>
      <rect
        width={width}
        height={verdict === 'differs' ? LANE - 5 : LANE}
        y={verdict === 'differs' ? 5 : 0}
        rx={1.5}
        fill={colour}
        fillOpacity={verdict === 'same' ? 0.55 : verdict === 'differs' ? 0.95 : 0.2}
        stroke={chosen ? 'var(--color-base-content)' : colour}
        strokeWidth={chosen ? 1.8 : 1}
        strokeDasharray={verdict === 'uncertain' ? '4 3' : undefined}
      />
      {verdict === 'differs' && <path d={`M0 0h${Math.min(width, 9)}l${-Math.min(width, 9) / 2} 4Z`} fill={colour} />}
    </g>
  );
}

/** The proof's score along the event: low is far from the reference. Grey while it no longer holds. */
function Trace({ row, trace, x, top }: { row: LedgerRow; trace: readonly (number | null)[] | undefined; x: Scale; top: number }) {
  if (!trace || trace.length === 0) return null;
  const { in: from, out } = row.recordFrames;
  const points = trace.flatMap((score, i) =>
    score === null ? [] : [`${x(from + ((i + 0.5) * (out - from)) / trace.length)},${top + (TRACE - 2) * (1 - Math.max(0, score / 100))}`],
  );
  const colour = row.proof?.stale
    ? 'var(--state-exempt)'
    : row.proof?.verdict === 'differs'
      ? 'var(--state-unpaired)'
      : 'var(--color-base-content)';
  return <polyline points={points.join(' ')} fill="none" stroke={colour} strokeWidth={1.3} />;
}

/** A job's ribbon in miniature, for the desk. */
export function SmallRibbon({ spans }: { spans: JobSummary['ribbon'] & {} }) {
  const layers = Math.max(1, ...spans.map((s) => s.layer + 1));
  return (
    <svg
      viewBox={`0 0 1000 ${layers * 14}`}
      preserveAspectRatio="none"
      className="w-full block"
      style={{ height: layers * 12 }}
      role="img"
      aria-label="The cut by state"
    >
      <title>The cut, filled by the state of its events</title>
      {spans.map((s) => (
        <rect
          key={`${s.layer} ${s.from}`}
          x={s.from * 1000}
          width={(s.to - s.from) * 1000}
          y={(layers - 1 - s.layer) * 14}
          height={12}
          fill={stateColour(s.state)}
        />
      ))}
    </svg>
  );
}
