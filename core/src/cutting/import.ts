import { type EditList, pictureTracks } from '../edit';
import type { Original } from '../originals';
import { type Frames, formatTimecode, readTimecode } from '../time';
import { wording } from '../words';
import type { Mark } from './marks';

type Movie = Pick<Original, 'start' | 'frames' | 'rate'>;

/** A line of a file of marks that was not taken, and why. Lines from 1. */
export interface MarkProblem {
  readonly line: number;
  readonly message: string;
}

const WORDS = wording({
  outside: ({ timecode, from, until }: { readonly timecode: string; readonly from: string; readonly until: string }) =>
    `${timecode} is not inside the movie, which goes from ${from} to ${until}.`,
  impossible: ({ text }: { readonly text: string }) => `${text} is no timecode at the rate of the movie.`,
});

const TIMECODE = /\d{1,2}[:;.]\d{2}[:;.]\d{2}[:;.]\d{2,3}/;

/** Reads marks from text, one a line: the first timecode of each line, on the movie's own. Lines without one are headings. */
export function readMarks(text: string, movie: Movie): { readonly marks: Mark[]; readonly problems: MarkProblem[] } {
  const frames = new Set<Frames>();
  const problems: MarkProblem[] = [];
  text.split(/\r\n?|\n/).forEach((line, i) => {
    const [found] = TIMECODE.exec(line) ?? [];
    if (!found) return;
    const read = readTimecode(found, movie.rate);
    const frame = read?.impossible === null ? read.frames : null;
    const into = frame === null ? -1 : frame - movie.start;
    if (frame === null) problems.push({ line: i + 1, message: WORDS.impossible({ text: found }).message });
    else if (into < 0 || into >= movie.frames) problems.push({ line: i + 1, message: outside(frame, movie) });
    // The first frame is the first shot's, not a mark.
    else if (into > 0) frames.add(into);
  });
  return { marks: asMarks(frames), problems };
}

/** The marks of a list: where its events begin on the record, as the movie's timecode counts. */
export function marksOfList(list: EditList, movie: Movie): { readonly marks: Mark[]; readonly problems: MarkProblem[] } {
  const problems: MarkProblem[] = [];
  const marks: Mark[] = [];
  for (const { record, transitionIn, line } of pictureTracks(list).flatMap((t) => t.events)) {
    const frame = record.in - movie.start;
    if (frame < 0 || frame >= movie.frames) problems.push({ line: line ?? 0, message: outside(record.in, movie) });
    else if (frame > 0)
      marks.push(
        transitionIn?.type === 'dissolve'
          ? { kind: 'dissolve', frame: frame - transitionIn.before, frames: transitionIn.duration, score: 1 }
          : { kind: 'cut', frame, frames: 0, score: 1 },
      );
  }
  const once = new Map(marks.map((m) => [m.frame, m] as const));
  return { marks: [...once.values()].sort((a, b) => a.frame - b.frame), problems };
}

const outside = (frame: Frames, { start, frames, rate }: Movie): string =>
  WORDS.outside({ timecode: formatTimecode(frame, rate), from: formatTimecode(start, rate), until: formatTimecode(start + frames, rate) })
    .message;

const asMarks = (frames: Iterable<Frames>): Mark[] =>
  [...frames].sort((a, b) => a - b).map((frame) => ({ kind: 'cut', frame, frames: 0, score: 1 }));
