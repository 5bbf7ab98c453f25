import type { LedgerRow } from '../../contract';
import { Picture, withoutPicture } from './Picture';

export const COMPARE_MODES = ['beside', 'split', 'difference', 'blend', 'swap', 'checker'] as const;
export type CompareMode = (typeof COMPARE_MODES)[number];

export const MODE_WORDS: Record<CompareMode, string> = {
  beside: 'Side by side',
  split: 'Split',
  difference: 'Difference',
  blend: 'Blend',
  swap: 'Swap',
  checker: 'Checker',
};

/** Every second cell of a grid of eight by four and a half. */
const CHECKER = 'repeating-conic-gradient(#000 0 25%, transparent 0 50%) 0 0 / 25% 44.4%';

interface Part {
  readonly x: number;
  readonly angle: number;
}

/** A record frame of an event, both sides held against each other in one way. */
export interface Compared {
  readonly job: string;
  readonly row: LedgerRow;
  readonly at: number;
  readonly look: string;
  readonly mode: CompareMode;
}

interface Props extends Compared {
  readonly front: 'reference' | 'conform';
  readonly line: Part;
}

/**
 * Stills of reference and conform at one record frame, as the server draws them: what is seen until viewing copies are there. The
 * reference always carries its colour and its word, so that the two cannot be confused.
 */
export function Compare({ job, row, at, look, mode, front, line }: Props) {
  const reference = (
    <Picture job={job} side="reference" frame={at} width={960} look={look} alt="Reference" empty="no reference" className="w-full h-full" />
  );
  const conform = (
    <Picture
      job={job}
      side="conform"
      frame={at}
      width={960}
      look={look}
      alt="Conform"
      empty={withoutPicture(row.state)}
      className="w-full h-full"
    />
  );
  if (mode === 'beside')
    return (
      <div className="grid grid-cols-2 gap-2">
        <div className="relative">
          {reference}
          <Mark />
        </div>
        {conform}
      </div>
    );
  const lean = Math.tan((line.angle * Math.PI) / 180) * 28;
  const edge = { top: line.x + lean, bottom: line.x - lean };
  return (
    <div>
      <div className="relative aspect-video max-h-[52vh] mx-auto overflow-hidden bg-black">
        <div className="absolute inset-0">{conform}</div>
        {mode === 'swap' && front === 'conform' ? null : (
          <div
            className="absolute inset-0"
            style={{
              clipPath: mode === 'split' ? `polygon(0 0, ${edge.top}% 0, ${edge.bottom}% 100%, 0 100%)` : undefined,
              mixBlendMode: mode === 'difference' ? 'difference' : undefined,
              opacity: mode === 'blend' ? 0.5 : 1,
              maskImage: mode === 'checker' ? CHECKER : undefined,
            }}
          >
            {reference}
          </div>
        )}
        {mode === 'split' && (
          <svg className="absolute inset-0 w-full h-full" viewBox="0 0 100 100" preserveAspectRatio="none" role="presentation">
            <line
              x1={edge.top}
              y1={0}
              x2={edge.bottom}
              y2={100}
              stroke="var(--reference)"
              strokeWidth={2}
              vectorEffect="non-scaling-stroke"
            />
          </svg>
        )}
        {(mode === 'split' || (mode === 'swap' && front === 'reference')) && <Mark />}
      </div>
    </div>
  );
}

/** The word that the reference always carries. */
export function Mark() {
  return (
    <span
      className="absolute left-0 top-0 px-1.5 text-xs font-medium"
      style={{ background: 'var(--reference)', color: 'var(--reference-content)' }}
    >
      Reference
    </span>
  );
}

export function Slider({
  label,
  min,
  max,
  value,
  onChange,
}: {
  label: string;
  min: number;
  max: number;
  value: number;
  onChange: (n: number) => void;
}) {
  return (
    <label className="flex items-center gap-2">
      <span className="quiet">{label}</span>
      <input
        type="range"
        className="range range-xs w-40"
        min={min}
        max={max}
        value={value}
        onChange={(e) => onChange(Number(e.target.value))}
      />
    </label>
  );
}
