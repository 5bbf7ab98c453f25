import type { Original } from '../originals';
import { formatTimecode, sameSpeed } from '../time';
import type { ReturnClip } from './plan';

/** One thing that came out otherwise than planned. */
export interface ReturnProblem {
  readonly fileName: string;
  readonly message: string;
}

/** Compares what was written, as probed again from disk, with what was planned: frames, timecode, reel, rate. */
export function checkReturn(clips: readonly ReturnClip[], found: ReadonlyMap<string, Original>): ReturnProblem[] {
  return clips.flatMap((clip) => {
    const file = found.get(clip.fileName);
    if (!file) return [{ fileName: clip.fileName, message: 'was not written' }];
    const problems: string[] = [];
    const frames = clip.given.out - clip.given.in;
    if (file.frames !== frames) problems.push(`has ${file.frames} frames, not ${frames}`);
    if (!sameSpeed(file.rate, clip.rate)) problems.push('runs at another rate');
    if (file.start !== clip.start)
      problems.push(`starts at ${formatTimecode(file.start, file.rate)}, not ${formatTimecode(clip.start, clip.rate)}`);
    if (clip.reel && file.reel !== clip.reel) problems.push(`carries reel "${file.reel}", not "${clip.reel}"`);
    return problems.map((message) => ({ fileName: clip.fileName, message }));
  });
}
