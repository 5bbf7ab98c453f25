import type { Cdl } from '@gemello/core';
import {
  CDL_CHANNELS,
  type CdlChannel,
  drawnTo,
  gripOf,
  meanTravel,
  nudged,
  TRAVEL_PARTS,
  type Travel,
  type TravelPart,
  travelled,
  travelOf,
  withTravel,
} from '@gemello/core/grade';
import { SPREAD_STEPS } from '@gemello/core/scopes';
import { area, curveBasis, line, max } from 'd3';
import { useRef } from 'react';

const [WIDTH, HEIGHT, EDGE] = [256, 168, 9];
const INKS = ['#e0604f', '#5fb96a', '#5b8de0'] as const;
const NAMES = ['Red', 'Green', 'Blue'] as const;
const PARTS: Record<TravelPart, { says: string; path: string }> = {
  foot: { says: 'Foot (offset)', path: 'M-6,-6H6V6H-6Z' },
  bend: { says: 'Bend (power)', path: 'M0,-6A6,6 0 1 1 0,6A6,6 0 1 1 0,-6Z' },
  reach: { says: 'Reach (slope)', path: 'M0,-8L8,0L0,8L-8,0Z' },
};
/** How far an arrow key moves a grip; with Shift ten times as far. */
const STEP = 0.005;

export type Channel = CdlChannel | 'all';

interface Props {
  readonly cdl: Cdl;
  readonly channel: Channel;
  /** How the shot's values are spread, channel by channel; null until it is known. */
  readonly spread: readonly (readonly number[] | Uint32Array)[] | null;
  readonly onChannel: (channel: Channel) => void;
  readonly onChange: (cdl: Cdl) => void;
}

const x = (v: number) => v * WIDTH;
const y = (v: number) => (1 - v) * HEIGHT;
const SAMPLES = Array.from({ length: 97 }, (_, i) => i / 96);
const curve = line<number>()
  .x((v) => x(v))
  .y(0);

/** How values travel from dark (left) to bright (right): foot, bend and reach are drawn by pointer or arrow keys, over the spread of the shot. */
export function Graph({ cdl, channel, spread, onChannel, onChange }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const travels = CDL_CHANNELS.map((c) => travelOf(cdl, c));
  const active = channel === 'all' ? meanTravel(cdl) : travelOf(cdl, channel);
  const draw = (part: TravelPart, to: { x: number; y: number }) => onChange(withTravel(cdl, channel, drawnTo(active, part, to)));
  const pointAt = (e: React.PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return null;
    const scale = (WIDTH + 2 * EDGE) / box.width;
    return { x: ((e.clientX - box.left) * scale - EDGE) / WIDTH, y: 1 - ((e.clientY - box.top) * scale - EDGE) / HEIGHT };
  };
  const top = max(spread?.flatMap((s) => [...s].slice(1, -1)) ?? []) || 1;
  const filled = area<number>()
    .x((_, i) => (i / (SPREAD_STEPS - 1)) * WIDTH)
    .y0(HEIGHT)
    .y1((n) => HEIGHT - Math.min(1, n / top) * HEIGHT * 0.8)
    .curve(curveBasis);
  const path = (travel: Travel) => curve.y((v) => y(travelled(travel, v)))(SAMPLES) ?? '';
  const ink = channel === 'all' ? '#e8e8e8' : INKS[channel];
  return (
    <fieldset aria-label="How values travel from dark to bright">
      <div role="tablist" aria-label="Channel" className="flex gap-1 pb-1">
        {(['all', ...CDL_CHANNELS] as const).map((c) => (
          <button
            key={c}
            type="button"
            role="tab"
            aria-selected={c === channel}
            className={`btn btn-xs px-2 ${c === channel ? 'btn-primary' : 'btn-ghost'}`}
            onClick={() => onChannel(c)}
          >
            {c === 'all' ? 'All' : NAMES[c]}
          </button>
        ))}
      </div>
      <svg ref={svg} viewBox={`${-EDGE} ${-EDGE} ${WIDTH + 2 * EDGE} ${HEIGHT + 2 * EDGE}`} className="w-full bg-black touch-none">
        <title>Dark at the left, bright at the right; what comes out goes up</title>
        {spread?.map((channelSpread, i) => (
          <path
            key={INKS[i]}
            d={filled([...channelSpread]) ?? ''}
            fill={INKS[i]}
            opacity={channel === 'all' || channel === i ? 0.4 : 0.1}
            style={{ mixBlendMode: 'screen' }}
          />
        ))}
        <path d={`M0,${HEIGHT}L${WIDTH},0`} stroke="#6a6a6a" strokeDasharray="2 3" fill="none" />
        <rect width={WIDTH} height={HEIGHT} fill="none" stroke="#4a4a4a" />
        {channel === 'all' &&
          travels.map((t, i) => <path key={INKS[i]} d={path(t)} fill="none" stroke={INKS[i]} strokeWidth={1} opacity={0.8} />)}
        <path d={path(active)} fill="none" stroke={ink} strokeWidth={1.6} />
        {TRAVEL_PARTS.map((part) => {
          const grip = gripOf(active, part);
          return (
            <path
              key={part}
              d={PARTS[part].path}
              transform={`translate(${x(grip.x)} ${y(grip.y)})`}
              fill="#141414"
              stroke={ink}
              strokeWidth={1.6}
              className="cursor-grab outline-offset-2 focus-visible:outline-2 focus-visible:outline-accent"
              role="slider"
              tabIndex={0}
              aria-label={`${PARTS[part].says}, ${channel === 'all' ? 'all channels' : NAMES[channel].toLowerCase()}`}
              aria-valuenow={Number(numberOf(active, part).toFixed(4))}
              aria-valuemin={part === 'foot' ? -1 : 0}
              aria-valuemax={8}
              onPointerDown={(e) => {
                e.currentTarget.setPointerCapture(e.pointerId);
                e.currentTarget.focus();
              }}
              onPointerMove={(e) => {
                const to = e.buttons === 1 ? pointAt(e) : null;
                if (to) draw(part, to);
              }}
              onKeyDown={(e) => {
                const by = STEP * (e.shiftKey ? 10 : 1);
                const step = { ArrowUp: by, ArrowDown: -by, ArrowLeft: by, ArrowRight: -by }[e.key];
                if (step === undefined) return;
                e.preventDefault();
                // The page's arrows go from frame to frame.
                e.stopPropagation();
                onChange(withTravel(cdl, channel, nudged(active, part, step)));
              }}
            />
          );
        })}
      </svg>
    </fieldset>
  );
}

const numberOf = ({ slope, offset, power }: Travel, part: TravelPart): number => ({ foot: offset, bend: power, reach: slope })[part];
