import type { Mark } from '../cutting';
import type { Decision } from '../decisions';
import { type EditList, EMPTY_LIST, type Framing, identified, type ListEvent, newEvent } from '../edit';
import { mendFor, transitionOf } from '../mending';
import type { Original } from '../originals';
import { type Finding, isReframed, type Laid, type Passage } from '../proof';
import { type Frames, formatTimecode, lengthOf, type Rate, range } from '../time';

/** Where a shot of the reference was found. */
export interface FoundPlace {
  readonly original: Original;
  /** Frame of the original, from 0, that stands at the shot's first frame. */
  readonly source: Frames;
  /** Its speed as a factor: -1 reverse, 0 a freeze. */
  readonly speed: number;
  /** Frames of the original that one of the record takes: its speed, and what two rates make of it. */
  readonly pace: number;
  readonly laid: Laid;
  /** Mean agreement, -1..1. */
  readonly score: number;
  /** How far it might lie aside and look the same, in frames, 0 included: a picture that hardly moves cannot tell. */
  readonly range: readonly [Frames, Frames];
}

/** The source frame of a place at an offset from its shot's first frame. */
export const frameOfPlace = ({ source, pace }: FoundPlace, offset: Frames): Frames => source + Math.floor(offset * pace + 1e-6);

/** A shot of the reference. Frames count from the first of the cut in it. */
export interface SeenShot {
  readonly from: Frames;
  readonly until: Frames;
  /** `found`; `black`: nothing to find; `lost`: it is in none of the originals. */
  readonly is: 'found' | 'black' | 'lost';
  readonly found: FoundPlace | null;
  /** Places in other originals that would fit as well, best first. */
  readonly others: readonly FoundPlace[];
  /** How it comes in, where not by a cut; `offsetFrames` from its first frame. */
  readonly join: Passage | null;
}

/** A cut as it was rebuilt from its picture: a list, and what had to be decided so that it shows the reference's pictures. */
export interface Rebuilt {
  readonly list: EditList;
  readonly decisions: readonly Decision[];
}

/** Makes the list of shots that were found. `start` is the record frame of the first. */
export function rebuilt(title: string, rate: Rate, framing: Framing, start: Frames, shots: readonly SeenShot[]): Rebuilt {
  const events = shots.map((shot, i) => eventOf(shot, i, rate, start, i === 0 || shots[i - 1]?.is === 'black'));
  const list = identified({ ...EMPTY_LIST, format: 'picture', title, rate, framing, tracks: [{ name: 'V', kind: 'picture', events }] });
  const made = list.tracks[0]?.events ?? [];
  const decisions = shots.flatMap((shot, i) => (shot.found ? decided(shot.found, made[i] as ListEvent, framing) : []));
  return { list, decisions };
}

function eventOf({ from, until, is, found, join }: SeenShot, i: number, rate: Rate, start: Frames, afterBlack: boolean): ListEvent {
  const length = until - from;
  const original = found?.original;
  const first = original ? original.start + (found?.source ?? 0) : 0;
  const source = range(first, first + length);
  return newEvent({
    key: `shot ${i}`,
    number: String(i + 1).padStart(3, '0'),
    kind: is === 'black' ? 'black' : 'clip',
    reel: is === 'black' ? 'BL' : (original?.reel ?? ''),
    clipName: original?.clipName ?? (is === 'lost' ? `Not found ${formatTimecode(start + from, rate)}` : ''),
    fileName: original?.fileName ?? '',
    mediaPath: original?.path ?? '',
    sourceRate: original?.rate ?? rate,
    source,
    sourceLabels: original ? `${formatTimecode(source.in, original.rate)} ${formatTimecode(source.out, original.rate)}` : '',
    record: range(start + from, start + until),
    transitionIn: join && transitionOf(afterBlack ? { ...join, from: 'black' } : join),
  });
}

/** The pair, and what findings the list would have without it. */
function decided(
  { original, source, speed, laid }: FoundPlace,
  { key: event, record }: ListEvent,
  { raster, pixelAspect }: Framing,
): Decision[] {
  const shape = raster ? (raster.width * (pixelAspect ?? 1)) / raster.height : 16 / 9;
  const of = { event, original: original.path, sourceStart: source, placement: null, shape, length: lengthOf(record) };
  const { scale, x, y, rotation, flip } = laid;
  const reframed = isReframed(laid);
  const findings: Finding[] = [];
  if (speed !== 1) findings.push({ kind: 'speed-differs', expected: 1, measured: speed });
  const [mirror] = flip === '' ? [] : (mendFor({ kind: 'mirrored', axis: flip }, of)?.decisions ?? []);
  // Flipped first, then scaled, turned and moved.
  const flipped = mirror?.kind === 'placement' ? mirror.placement : null;
  const place = reframed ? mendFor({ kind: 'reframed', scale, x, y, rotation }, { ...of, placement: flipped }) : null;
  return [
    { kind: 'pair', event, original: original.path, sourceStartFrame: source },
    ...findings.flatMap((f) => mendFor(f, of)?.decisions ?? []),
    ...(place?.decisions ?? (mirror ? [mirror] : [])),
  ];
}

/** How far a source may be off, in frames, and still run on across what was taken for a cut. */
const RUNS_ON: Frames = 1;

/** Shots that agree so much less than half of all do show something that resembles them, as a share. */
const WEAK = 0.72;

/** Shots whose place agrees little beside that of the others count as lost: it is a picture that resembles theirs. */
export function withoutWeak(shots: readonly SeenShot[]): SeenShot[] {
  const scores = shots.flatMap((s) => (s.found ? [s.found.score] : [])).sort((a, b) => a - b);
  const usual = scores[scores.length >> 1] ?? 0;
  return shots.map((s) =>
    s.found && s.found.score < WEAK * usual ? { ...s, is: 'lost', found: null, others: [s.found, ...s.others] } : s,
  );
}

/** Pieces so short that were found nowhere are the middle of a transition, where nothing is seen by itself. */
const MIDDLE_OF_A_TRANSITION: Frames = 30;

/** The shots without such pieces: each side takes half, and the join tells the rest. */
export function withoutMiddles(shots: readonly SeenShot[]): SeenShot[] {
  const out = [...shots];
  for (let i = 1; i < out.length - 1; i++) {
    const [before, piece, after] = [out[i - 1] as SeenShot, out[i] as SeenShot, out[i + 1] as SeenShot];
    if (piece.is !== 'lost' || !before.found || !after.found || piece.until - piece.from > MIDDLE_OF_A_TRANSITION) continue;
    const middle = (piece.from + piece.until) >> 1;
    const [left, right] = withJoin(before, after, middle, null);
    out.splice(i - 1, 3, left, right);
  }
  return out;
}

/** Shots without cuts that are none: where one original runs on at the same speed, in the same place, nothing was cut. */
export function runTogether(shots: readonly SeenShot[]): SeenShot[] {
  const out: SeenShot[] = [];
  for (const shot of shots) {
    const before = out.at(-1);
    if (before && runsOn(before, shot)) out[out.length - 1] = { ...before, until: shot.until, found: better(before, shot) };
    else out.push(shot);
  }
  return out;
}

function runsOn(a: SeenShot, b: SeenShot): boolean {
  if (a.is === 'black' || b.is === 'black') return a.is === b.is;
  if (!a.found || !b.found) return false;
  const due = frameOfPlace(a.found, b.from - a.from);
  const alike = (one: Laid, other: Laid) =>
    one.flip === other.flip &&
    !isReframed({
      ...other,
      scale: other.scale / one.scale,
      x: other.x - one.x,
      y: other.y - one.y,
      rotation: other.rotation - one.rotation,
    });
  return (
    a.found.original.path === b.found.original.path &&
    Math.abs(a.found.speed - b.found.speed) < 0.02 &&
    Math.abs(due - b.found.source) <= RUNS_ON &&
    alike(a.found.laid, b.found.laid)
  );
}

/** What two pieces of one shot say, by the longer of them, counted from the first frame of both. */
function better(a: SeenShot, b: SeenShot): FoundPlace | null {
  if (!a.found || !b.found || a.until - a.from >= b.until - b.from) return a.found;
  return { ...b.found, source: frameOfPlace(b.found, a.from - b.from) };
}

/** How a join was told by the pictures of both sides: where the cut lies, and how the incoming side comes in. */
export const withJoin = (before: SeenShot, shot: SeenShot, at: Frames, join: Passage | null): [SeenShot, SeenShot] => [
  { ...before, until: at },
  {
    ...shot,
    from: at,
    join,
    found: shot.found && { ...shot.found, source: frameOfPlace(shot.found, at - shot.from) },
  },
];

const NEARLY_BLACK: Frames = 2;

/** The shots that marks cut a movie into; black where nothing is seen. */
export function shotsBetween(frames: Frames, marks: readonly Mark[], isBlack: (from: Frames, until: Frames) => boolean): SeenShot[] {
  // A dissolve is cut in its middle: either side is seen best away from it. Black dissolves in and out.
  const bounds = new Map<Frames, Mark | null>([
    [0, null],
    ...marks.map((m) => [m.kind === 'dissolve' ? m.frame + (m.frames >> 1) : m.frame, m] as const),
  ]);
  const [fade] = marks;
  // The first frame of a picture that comes out of black is all but black itself.
  if (fade?.kind === 'fade-in' && fade.frame <= NEARLY_BLACK) {
    bounds.delete(fade.frame);
    bounds.set(0, { ...fade, frame: 0, frames: fade.frames + fade.frame });
  }
  const from = [...bounds.keys()].filter((n) => n < frames).sort((a, b) => a - b);
  return from.map((first, i): SeenShot => {
    const until = from[i + 1] ?? frames;
    const mark = bounds.get(first) ?? null;
    const black = mark?.kind === 'fade-out' || (mark?.kind !== 'fade-in' && isBlack(first, until));
    const fades = mark?.kind === 'fade-out' || mark?.kind === 'fade-in';
    const join = fades ? { type: 'dissolve', durationFrames: mark.frames, offsetFrames: 0, wipeCode: null } : null;
    return { from: first, until, is: black ? 'black' : 'lost', found: null, others: [], join };
  });
}
