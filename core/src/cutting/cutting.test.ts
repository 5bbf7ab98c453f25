import { describe, expect, it } from 'vitest';
import { list, event as make, original } from '../../test/make';
import { scene } from '../../test/scenes';
import { GRID_SIZE, type Luma, wholeMask } from '../proof';
import { RATES } from '../time';
import { cutUp, listOfMarks, type Mark, marksAt, marksOfList, readMarks, USUAL_THRESHOLD } from '.';

/** A movie of takes, each from a frame on; `mixed` lays one take over the next for so many frames. */
interface Piece {
  readonly take: number;
  readonly frames: number;
  readonly dissolve?: number;
}

function movieOf(pieces: readonly Piece[]): Luma[] {
  const out: Luma[] = [];
  pieces.forEach(({ take, frames, dissolve = 0 }, i) => {
    const before = pieces[i - 1];
    for (let k = 0; k < frames; k++) {
      const here = picture(take, k);
      // (k + 1)/(N + 1), as in docs/decisions/0013.
      const share = before && k < dissolve ? (k + 1) / (dissolve + 1) : 1;
      const old = share < 1 && before ? picture(before.take, before.frames + k) : here;
      out.push(here.map((v, p) => v * share + (old[p] as number) * (1 - share)));
    }
  });
  return out;
}

/** Take 0 is black. Nothing moves by more than a point a frame. */
const picture = (take: number, k: number): Float32Array =>
  take === 0 ? new Float32Array(GRID_SIZE).fill(16) : Float32Array.from(scene(take, 20 + k / 10));
const marks = (movie: readonly Luma[], threshold = USUAL_THRESHOLD): Mark[] =>
  marksAt(
    cutUp(movie.length, (n) => movie[n] as Luma, wholeMask()),
    threshold,
  );

describe('cuts of a movie', () => {
  it('are found to the frame, each with how different its sides are', () => {
    const found = marks(
      movieOf([
        { take: 1, frames: 30 },
        { take: 4, frames: 25 },
        { take: 7, frames: 40 },
      ]),
    );
    expect(found.map(({ kind, frame }) => ({ kind, frame }))).toEqual([
      { kind: 'cut', frame: 30 },
      { kind: 'cut', frame: 55 },
    ]);
    for (const { score } of found) expect(score).toBeGreaterThan(0.3);
  });
  it('are neither movement, nor a flash of one frame, nor a change of exposure', () => {
    const movie = movieOf([{ take: 3, frames: 80 }]).map((luma, n) => {
      if (n === 30) return luma.map(() => 250);
      return n > 50 ? luma.map((v) => Math.min(255, 20 + v * 1.2)) : luma;
    });
    expect(marks(movie)).toEqual([]);
  });
  it('fewer as the threshold rises', () => {
    const movie = movieOf([1, 4, 7, 9].map((take) => ({ take, frames: 20 })));
    expect(marks(movie, 0.05).length).toBeGreaterThanOrEqual(marks(movie, 0.5).length);
    expect(marks(movie, 1)).toEqual([]);
  });
  it('may be dissolves, of which the most part is found: movement hides their ends (docs/proof.md)', () => {
    const [found, ...more] = marks(
      movieOf([
        { take: 2, frames: 60 },
        { take: 5, frames: 60, dissolve: 16 },
      ]),
    );
    expect(more).toEqual([]);
    expect(found?.kind).toBe('dissolve');
    expect(found?.frame).toBeGreaterThanOrEqual(58);
    expect((found?.frame ?? 0) + (found?.frames ?? 0)).toBeLessThanOrEqual(78);
    expect(found?.frames).toBeGreaterThanOrEqual(8);
  });
  it('may fade to black and out of it', () => {
    const found = marks(
      movieOf([
        { take: 2, frames: 60 },
        { take: 0, frames: 30, dissolve: 12 },
        { take: 5, frames: 60, dissolve: 20 },
      ]),
    );
    expect(found.map((m) => m.kind)).toEqual(['fade-out', 'fade-in']);
    for (const [i, { frame, frames }] of [
      { frame: 60, frames: 12 },
      { frame: 90, frames: 20 },
    ].entries()) {
      expect(Math.abs((found[i]?.frame ?? 0) - frame)).toBeLessThanOrEqual(1);
      expect(Math.abs((found[i]?.frames ?? 0) - frames)).toBeLessThanOrEqual(2);
    }
  });
});

describe('a list of marks', () => {
  const movie = original('/v/CUT.mov', { start: 86_400, frames: 100, rate: RATES['24'] });
  it('has a shot for each, whose source is the movie at its own timecode, dissolves where they begin', () => {
    const made = listOfMarks(
      movie,
      [
        { kind: 'cut', frame: 30, frames: 0, score: 1 },
        { kind: 'dissolve', frame: 60, frames: 12, score: 1 },
      ],
      null,
    );
    const events = made.tracks[0]?.events ?? [];
    expect(events.map((e) => [e.record.in, e.record.out, e.source.in, e.clipName])).toEqual([
      [86_400, 86_430, 86_400, 'CUT'],
      [86_430, 86_460, 86_430, 'CUT'],
      [86_460, 86_500, 86_460, 'CUT'],
    ]);
    expect(events[2]?.transitionIn).toMatchObject({ type: 'dissolve', duration: 12, from: 'previous' });
  });
  it('comes from text, one timecode a line; what is none of the movie is said with its line', () => {
    const { marks: read, problems } = readMarks('Marks\n1  01:00:01:06  first\n\n01:00:00:20\n02:00:00:00 too late\n01:00:01:99', movie);
    expect(read.map((m) => m.frame)).toEqual([20, 30]);
    expect(problems).toEqual([
      { line: 5, message: '02:00:00:00 is not inside the movie, which goes from 01:00:00:00 to 01:00:04:04.' },
      { line: 6, message: '01:00:01:99 is no timecode at the rate of the movie.' },
    ]);
  });
  it('or from the events of another list', () => {
    const other = list([make('V1/1', 86_400, 40, 0), make('V1/2', 86_440, 60, 0), make('V1/3', 90_000, 10, 0, { line: 9 })]);
    const { marks: read, problems } = marksOfList(other, movie);
    expect(read).toEqual([{ kind: 'cut', frame: 40, frames: 0, score: 1 }]);
    expect(problems).toMatchObject([{ line: 9 }]);
  });
});
