import type { PairState, Verdict } from '@gemello/core';
import { verdictText } from '@gemello/core/proof';
import { formatTimecode } from '@gemello/core/time';
import { group, scaleLinear } from 'd3';
import { memo, useMemo, useState } from 'react';
import type { JobSummary, LedgerRow, LedgerView } from '../../contract';
import { eventName } from '../data/events';
import { useTraces } from '../data/queries';
import { chosenRow, frameIn, useView } from '../data/view';
import { type Block, blocksOf, type Look } from './blocks';
import { Glyph, stateColour } from './Glyph';
import { roundTimes } from './times';
import { useWidth } from './useWidth';
import { VERDICT_COLOUR } from './VerdictMark';

const LANE = 15;
const TRACE = 22;
const RULER = 16;

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
  const layers = useMemo(() => [...new Set(rows.map((r) => r.track))].sort().reverse(), [rows]);
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
          <Blocks rows={rows} layers={layers} from={from} to={to} width={width} byVerdict={stage === 'proof'} />
          {chosen && (
            <rect
              x={x(chosen.recordFrames.in)}
              y={laneTop + layers.indexOf(chosen.track) * (LANE + 2)}
              width={Math.max(1, x(chosen.recordFrames.out) - x(chosen.recordFrames.in) - 1)}
              height={LANE}
              rx={1.5}
              fill="none"
              stroke="var(--color-base-content)"
              strokeWidth={1.8}
            />
          )}
          <line x1={0} x2={width} y1={traceTop + TRACE - 1} y2={traceTop + TRACE - 1} stroke="currentColor" opacity={0.25} />
          {traces && <Traces rows={rows} traces={traces} from={from} to={to} width={width} top={traceTop} />}
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

/** The part of the cut that is shown, and the pixels it has across. */
interface Part {
  readonly from: number;
  readonly to: number;
  readonly width: number;
}

interface BlocksProps extends Part {
  readonly rows: readonly LedgerRow[];
  readonly layers: readonly string[];
  readonly byVerdict: boolean;
}

/** Every event to scale. It is drawn anew when the cut or what is shown of it changes, not when the playhead moves. */
const Blocks = memo(function Blocks({ rows, layers, from, to, width, byVerdict }: BlocksProps) {
  const x = scaleLinear().domain([from, to]).range([0, width]);
  const shown = group(
    rows.filter((r) => r.recordFrames.out > from && r.recordFrames.in < to),
    (r) => r.track,
  );
  return layers.map((layer, i) => (
    <g key={layer} transform={`translate(0,${RULER + 2 + i * (LANE + 2)})`}>
      {blocksOf(shown.get(layer) ?? [], x, byVerdict).map((block) => (
        <g key={block.first.id} transform={`translate(${block.left},0)`}>
          <title>{titleOf(block)}</title>
          {isVerdict(block.look) ? (
            <Judged verdict={block.look} width={block.width} />
          ) : (
            <Standing state={block.look} width={block.width} alone={block.count === 1} />
          )}
        </g>
      ))}
    </g>
  ));
});

const isVerdict = (look: Look): look is Verdict => look in VERDICT_COLOUR;

function titleOf({ first, count, look, mixed }: Block): string {
  const says = isVerdict(look) ? verdictText(look) : look;
  if (count === 1) return `${first.number}  ${eventName(first)}  ${says}`;
  return `${count} events from ${first.number}: ${mixed ? `some ${says}` : says}`;
}

/** An event, or several, by state. */
function Standing({ state, width, alone }: { state: PairState; width: number; alone: boolean }) {
  const solid = state === 'paired';
  return (
    <>
      <rect
        width={width}
        height={LANE}
        rx={1.5}
        fill={stateColour(state)}
        fillOpacity={solid ? 0.9 : 0.28}
        stroke={stateColour(state)}
        strokeDasharray={state === 'doubtful' || state === 'away' ? '3 2' : undefined}
      />
      {alone && width > 34 && !solid && state !== 'proposed' && (
        <g transform="translate(2,1.5)">
          <Glyph state={state} size={19} />
        </g>
      )}
    </>
  );
}

/** An event under Proof, by what was found: whole where it is the same, set off where it differs, broken where it cannot be told. */
function Judged({ verdict, width }: { verdict: Verdict; width: number }) {
  const colour = VERDICT_COLOUR[verdict];
  const differs = verdict === 'differs';
  return (
    <>
      <rect
        width={width}
        height={differs ? LANE - 5 : LANE}
        y={differs ? 5 : 0}
        rx={1.5}
        fill={colour}
        fillOpacity={verdict === 'same' ? 0.55 : differs ? 0.95 : 0.2}
        stroke={colour}
        strokeDasharray={verdict === 'uncertain' ? '4 3' : undefined}
      />
      {differs && <path d={`M0 0h${Math.min(width, 9)}l${-Math.min(width, 9) / 2} 4Z`} fill={colour} />}
    </>
  );
}

interface TracesProps extends Part {
  readonly rows: readonly LedgerRow[];
  readonly traces: Readonly<Record<string, readonly (number | null)[]>>;
  readonly top: number;
}

/** The proof's score along each event: low is far from the reference. Grey while it no longer holds. */
const Traces = memo(function Traces({ rows, traces, from, to, width, top }: TracesProps) {
  const x = scaleLinear().domain([from, to]).range([0, width]);
  const lines = group(
    rows.filter((r) => r.recordFrames.out > from && r.recordFrames.in < to),
    traceColour,
  );
  return [...lines].map(([colour, its]) => (
    <path
      key={colour}
      d={its.map((row) => traceOf(row, traces[row.id] ?? [], x, top)).join('')}
      fill="none"
      stroke={colour}
      strokeWidth={1.3}
    />
  ));
});

const traceColour = ({ proof }: LedgerRow): string =>
  proof?.stale ? 'var(--state-exempt)' : proof?.verdict === 'differs' ? 'var(--state-unpaired)' : 'var(--color-base-content)';

function traceOf({ recordFrames }: LedgerRow, trace: readonly (number | null)[], x: (frame: number) => number, top: number): string {
  const { in: from, out } = recordFrames;
  const points = trace.flatMap((score, i) =>
    score === null
      ? []
      : [
          `${x(from + ((i + 0.5) * (out - from)) / trace.length).toFixed(1)} ${(top + (TRACE - 2) * (1 - Math.max(0, score / 100))).toFixed(1)}`,
        ],
  );
  return points.length > 0 ? `M${points.join('L')}` : '';
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
