import { bisectLeft } from 'd3-array';
import type { Frames } from '../time';

/** The mark nearest to a frame, no further from it than `within`; null where none is. `marks` in their order. */
export function nearestMark(frame: Frames, marks: readonly Frames[], within: Frames): Frames | null {
  const at = bisectLeft(marks, frame);
  const [before, after] = [marks[at - 1], marks[at]];
  const near = [before, after].filter((m): m is Frames => m !== undefined && Math.abs(m - frame) <= within);
  if (near.length === 0) return null;
  return near.reduce((best, m) => (Math.abs(m - frame) < Math.abs(best - frame) ? m : best));
}
