import type { LedgerRow } from '../../contract';
import { Picture, withoutPicture } from '../parts/Picture';
import type { CompareMode } from './ways';

/** Every second cell of a grid of eight by four and a half. */
const CHECKER = 'repeating-conic-gradient(#000 0 25%, transparent 0 50%) 0 0 / 25% 44.4%';

interface Props {
  readonly job: string;
  readonly row: LedgerRow;
  readonly at: number;
  /** Changes with any picture of the cut. */
  readonly look: string;
  readonly mode: CompareMode;
  readonly front: 'a' | 'b';
  /** Of a split: where it crosses the middle, 0..1, and its turn in degrees. */
  readonly line: number;
  readonly angle: number;
}

/** Stills of reference and conform at one record frame, as the server draws them: what is seen until viewing copies are there. */
export function Stills({ job, row, at, look, mode, front, line, angle }: Props) {
  const fills = 'absolute inset-0 w-full h-full';
  const reference = (
    <Picture job={job} side="reference" frame={at} width={960} look={look} alt="Reference" empty="no reference" className={fills} />
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
      className={fills}
    />
  );
  if (mode === 'beside')
    return (
      <div className="absolute inset-0 grid grid-cols-2 gap-2">
        <div className="relative">{reference}</div>
        <div className="relative">{conform}</div>
      </div>
    );
  return (
    <div className="absolute inset-0 overflow-hidden bg-black">
      {conform}
      {mode === 'swap' && front === 'b' ? null : (
        <div
          className="absolute inset-0"
          style={{
            clipPath: mode === 'split' ? leftOf(line, angle) : undefined,
            mixBlendMode: mode === 'difference' ? 'difference' : undefined,
            opacity: mode === 'blend' ? 0.5 : 1,
            maskImage: mode === 'checker' ? CHECKER : undefined,
          }}
        >
          {reference}
        </div>
      )}
    </div>
  );
}

/** What lies on A's side of a line, for a picture of 16 by 9: large enough to be cut off by the frame. */
function leftOf(line: number, angle: number): string {
  const turned = (angle * Math.PI) / 180;
  const [x, y] = [Math.cos(turned), Math.sin(turned)];
  const far = 30;
  const corners = [
    [far * y, -far * x],
    [-far * y, far * x],
    [-far * y - far * x, far * x - far * y],
    [far * y - far * x, -far * x - far * y],
  ] as const;
  return `polygon(${corners.map(([dx, dy]) => `${(line + (dx * 9) / 16) * 100}% ${(0.5 + dy) * 100}%`).join(', ')})`;
}
