import type { Frames } from '../time';
import type { EventProof, Finding } from './verdict';

/** Where a finding shows best: an offset from the event's record in, which lies before it where its cut came too early. */
export function showsBest({ trace }: Pick<EventProof, 'trace'>, finding: Finding | null): Frames {
  const middle = trace.length >> 1;
  if (finding?.kind === 'cut-moved')
    return finding.edge === 'in' ? Math.floor(finding.frames / 2) : trace.length - 1 + Math.ceil(finding.frames / 2);
  if (finding?.kind === 'transition-differs') {
    const { expected, measured } = finding;
    const [from, frames] = [
      measured?.offsetFrames ?? expected?.offsetFrames ?? 0,
      Math.max(measured?.durationFrames ?? 0, expected?.durationFrames ?? 0),
    ];
    return Math.min(trace.length - 1, (measured?.to ? trace.length : 0) + from + (frames >> 1));
  }
  if (finding === null || finding.kind === 'cannot-tell' || finding.kind === 'picture-missing') return middle;
  // Where both sides agree least, edges aside, which may belong to a neighbour.
  const edge = Math.min(8, trace.length >> 3);
  let least = { at: middle, value: Number.POSITIVE_INFINITY };
  for (let at = edge; at < trace.length - edge; at++) {
    const value = trace[at];
    if (value !== null && value !== undefined && value < least.value) least = { at, value };
  }
  return least.at;
}
