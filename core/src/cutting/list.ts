import { type EditList, EMPTY_LIST, identified, type ListEvent, newEvent, type Transition } from '../edit';
import type { Original } from '../originals';
import { type Frames, formatTimecode, range } from '../time';
import type { Change } from './change';
import type { Mark } from './marks';
import { BLANK } from './slow';

/** Above this mean a frame without structure is no black, but a card of one colour. */
const BLACK: number = 64;

/** A list that was made of a movie's marks: each shot an event whose source is the movie itself, at its own timecode. */
export function listOfMarks(
  movie: Pick<Original, 'reel' | 'clipName' | 'fileName' | 'path' | 'start' | 'frames' | 'rate'>,
  marks: readonly Mark[],
  change: Change | null,
): EditList {
  const bounds = [...new Set([0, ...marks.map((m) => m.frame)])].filter((n) => n >= 0 && n < movie.frames).sort((a, b) => a - b);
  const at = new Map(marks.map((m) => [m.frame, m] as const));
  const events: ListEvent[] = [];
  bounds.forEach((from, i) => {
    const until = bounds[i + 1] ?? movie.frames;
    const mark = at.get(from) ?? null;
    const black = mark?.kind === 'fade-out' || (change !== null && isBlack(change, from, until, mark));
    const place = range(movie.start + from, movie.start + until);
    events.push(
      newEvent({
        key: `mark ${i}`,
        number: String(events.length + 1).padStart(3, '0'),
        kind: black ? 'black' : 'clip',
        reel: black ? 'BL' : movie.reel,
        clipName: black ? '' : movie.clipName,
        fileName: black ? '' : movie.fileName,
        mediaPath: black ? '' : movie.path,
        sourceRate: movie.rate,
        source: black ? range(0, until - from) : place,
        record: place,
        sourceLabels: `${formatTimecode(place.in, movie.rate)} ${formatTimecode(place.out, movie.rate)}`,
        transitionIn: mark && transitionOf(mark, events.at(-1)?.kind === 'black'),
      }),
    );
  });
  return identified({
    ...EMPTY_LIST,
    format: 'marks',
    title: movie.clipName,
    rate: movie.rate,
    tracks: [{ name: 'V', kind: 'picture', events }],
  });
}

function transitionOf({ kind, frames }: Mark, afterBlack: boolean): Transition | null {
  if (kind === 'cut') return null;
  const from = kind === 'fade-in' || afterBlack ? 'black' : 'previous';
  return { type: 'dissolve', duration: frames, before: 0, from, wipeCode: null };
}

/** True where nothing but black is seen between two marks, the transition aside. */
function isBlack({ spread, mean }: Change, from: Frames, until: Frames, mark: Mark | null): boolean {
  const first = from + (mark?.kind === 'dissolve' ? mark.frames : 0);
  if (mark?.kind === 'fade-in' || first >= until) return false;
  for (let n = first; n < until; n++) if ((spread[n] as number) >= BLANK || (mean[n] as number) >= BLACK) return false;
  return true;
}
