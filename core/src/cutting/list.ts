import { type EditList, EMPTY_LIST, identified, type ListEvent, newEvent, type Transition } from '../edit';
import type { Original } from '../originals';
import { formatTimecode, range } from '../time';
import { type Change, isBlackBetween } from './change';
import type { Mark } from './marks';

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
    // A dissolve is seen, even into black.
    const shown = from + (mark?.kind === 'dissolve' ? mark.frames : 0);
    const black = mark?.kind === 'fade-out' || (mark?.kind !== 'fade-in' && change !== null && isBlackBetween(change, shown, until));
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
