import { useRef } from 'react';
import { useLooking } from '../data/looking';

/**
 * The line between both sides of a split, over a picture of this size: its middle is dragged to move it, its end to turn it to any
 * angle. The arrow keys do the same on either.
 */
export function SplitLine({ width, height }: { width: number; height: number }) {
  const { line, angle, set } = useLooking();
  const svg = useRef<SVGSVGElement>(null);
  const turned = (angle * Math.PI) / 180;
  // Along the line, upwards at no turn.
  const [dx, dy] = [Math.sin(turned), -Math.cos(turned)];
  const [x, y] = [line * width, height / 2];
  const far = width + height;
  const reach = Math.min(height * 0.36, width * 0.3);
  const at = (e: React.PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    return { x: e.clientX - (box?.left ?? 0), y: e.clientY - (box?.top ?? 0) };
  };
  const dragged = (move: (p: { x: number; y: number }) => void) => ({
    onPointerDown: (e: React.PointerEvent) => e.currentTarget.setPointerCapture(e.pointerId),
    onPointerMove: (e: React.PointerEvent) => e.buttons === 1 && move(at(e)),
  });
  const clamp = (n: number) => Math.max(0, Math.min(1, n));
  const whole = (degrees: number) => Math.round(((degrees + 540) % 360) - 180);
  const byKey = (change: (by: number) => void) => (e: React.KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[e.key];
    if (by === undefined) return;
    e.preventDefault();
    e.stopPropagation();
    change(e.shiftKey ? by * 10 : by);
  };
  return (
    <svg ref={svg} className="absolute inset-0 pointer-events-none" width={width} height={height} role="presentation">
      <line
        x1={x - dx * far}
        y1={y - dy * far}
        x2={x + dx * far}
        y2={y + dy * far}
        stroke="var(--reference)"
        strokeWidth={1.5}
        pointerEvents="none"
      />
      <circle
        cx={x}
        cy={y}
        r={9}
        fill="var(--reference)"
        fillOpacity={0.85}
        stroke="#000"
        role="slider"
        tabIndex={0}
        aria-label="Where the split lies, in hundredths"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(line * 100)}
        className="cursor-ew-resize pointer-events-auto"
        {...dragged((p) => set({ line: clamp(p.x / width) }))}
        onKeyDown={byKey((by) => set({ line: clamp(line + by / 100) }))}
      />
      <circle
        cx={x + dx * reach}
        cy={y + dy * reach}
        r={7}
        fill="#000"
        fillOpacity={0.6}
        stroke="var(--reference)"
        strokeWidth={2}
        role="slider"
        tabIndex={0}
        aria-label="Turn of the split, in degrees"
        aria-valuemin={-180}
        aria-valuemax={180}
        aria-valuenow={angle}
        className="cursor-move pointer-events-auto"
        {...dragged((p) => set({ angle: whole((Math.atan2(p.x - x, y - p.y) * 180) / Math.PI) }))}
        onKeyDown={byKey((by) => set({ angle: whole(angle + by) }))}
      />
    </svg>
  );
}
