import type { Original } from '../originals';
import { formatTimecode, sameSpeed } from '../time';
import { framesOfClip, type ReturnClip } from './plan';
import { RETURN_WORDS } from './wording';

/** One thing that came out otherwise than planned. */
export interface ReturnProblem {
  readonly fileName: string;
  readonly message: string;
}

/** Compares what was written, as probed again from disk, with what was planned: frames, timecode, reel, rate. */
export function checkReturn(clips: readonly ReturnClip[], found: ReadonlyMap<string, Original>): ReturnProblem[] {
  return clips.flatMap((clip) => {
    const file = found.get(clip.fileName);
    if (!file) return [{ fileName: clip.fileName, message: RETURN_WORDS.notWritten() }];
    const problems: string[] = [];
    const frames = framesOfClip(clip);
    if (file.frames !== frames) problems.push(RETURN_WORDS.otherLength({ found: file.frames, planned: frames }));
    if (!sameSpeed(file.rate, clip.rate)) problems.push(RETURN_WORDS.otherRate());
    if (file.start !== clip.start)
      problems.push(
        RETURN_WORDS.otherStart({ found: formatTimecode(file.start, file.rate), planned: formatTimecode(clip.start, clip.rate) }),
      );
    if (clip.reel && file.reel !== clip.reel) problems.push(RETURN_WORDS.otherReel({ found: file.reel, planned: clip.reel }));
    return problems.map((message) => ({ fileName: clip.fileName, message }));
  });
}
