import { quantileSorted } from 'd3-array';
import type { Original } from '../originals';
import {
  agreement,
  comparable,
  type EventPictures,
  type Explanation,
  explain,
  FOUND,
  frameOfRun,
  type Laid,
  type Luma,
  type Mask,
  placesIn,
  warped,
} from '../proof';
import { type Frames, framesPerSecond, type Rate, sameSpeed } from '../time';
import { type FoundPlace, frameOfPlace, type SeenShot } from './assemble';
import { innerOf, LIKELY, soughtIn, UNLIKELY } from './seek';

/** The reference as it lies in the frame of the cut. Frames count from its first. */
export interface SeenReference {
  readonly rate: Rate;
  picture(n: Frames): Luma | null;
  readonly mask: Mask;
}

/** All originals that a shot may come from. */
export interface Library {
  readonly originals: readonly Original[];
  /** The prints of one; null where it has no pictures or cannot be read, which is said elsewhere. */
  prints(original: Original): Int8Array | null;
  /** The picture of a frame of one, laid into the frame of the cut; null where there is none. */
  frame(original: Original, frame: Frames): Luma | null;
}

/** Ways in which a source may be laid, runs of pictures that a shot is looked for by, and places that are looked at more closely. */
const WAYS: readonly (readonly [readonly Laid[], number, number])[] = [
  [LIKELY, 4, 5],
  [UNLIKELY, 2, 3],
];
/** Prints of a place must agree so well. */
const LIKE = 0.3;
/** Pictures that agree so well need no other explanation, unless prints of another place agree nearly as well. */
const [CERTAIN, FAR_LESS] = [0.8, 0.85];
/** Another place that agrees so nearly as well would do, too. */
const AS_GOOD = 0.02;
/** Pieces shorter than this are not looked for by themselves, in frames. */
const SHORTEST: Frames = 10;
/** How often a shot is parted where only some of it was found. */
const PARTED = 3;

/** Looks for one shot in all originals. A shot of which only a part is found is parted: a cut or dissolve in it was missed. */
export function findShot(shot: SeenShot, reference: SeenReference, library: Library, depth = 0): SeenShot[] {
  const length = shot.until - shot.from;
  if (shot.is === 'black' || innerOf(length).length === 0) return [shot];
  const pictures = { length, reference: (offset: Frames) => reference.picture(shot.from + offset), mask: reference.mask };
  let told: { place: FoundPlace; event: EventPictures; explanation: Explanation }[] = [];
  for (const [ways, runs, closer] of depth === 0 ? WAYS : WAYS.slice(0, 1)) {
    told = [];
    const spots = spotsOf(pictures, library, ways, runs).slice(0, closer);
    for (const { original, frame, laid, score } of spots) {
      // One that is found for certain spares a look at what resembles it less by far.
      if (told.some((t) => t.explanation.score >= CERTAIN) && score < FAR_LESS * (spots[0]?.score ?? 0)) break;
      const one = explained(pictures, library, reference.rate, original, frame, laid);
      if (one) told.push(one);
    }
    told.sort((a, b) => b.explanation.score - a.explanation.score);
    if ((told[0]?.explanation.score ?? 0) >= FOUND) break;
  }
  const [best] = told;
  if (!best || best.explanation.score < FOUND)
    return depth < PARTED && length >= 4 * SHORTEST ? halved(shot, reference, library, depth) : [shot];
  const others = told.filter(
    (t) => t.place.original.path !== best.place.original.path && t.explanation.score > best.explanation.score - AS_GOOD,
  );
  const found: SeenShot = { ...shot, is: 'found', found: best.place, others: others.map((o) => o.place) };
  return depth < PARTED ? withoutStrange(found, best.place, best.event, best.explanation, reference, library, depth) : [found];
}

interface Spot {
  readonly original: Original;
  readonly frame: Frames;
  readonly laid: Laid;
  readonly score: number;
}

/** The likeliest places in all originals, best first: all runs of the shot together, and its middle alone, which other speeds leave in place. */
function spotsOf(pictures: Parameters<typeof soughtIn>[0], library: Library, ways: readonly Laid[], runs: number): Spot[] {
  const spots: Spot[] = [];
  for (const laid of ways) {
    const sought = [soughtIn(pictures, laid, runs), soughtIn(pictures, laid, 1)];
    for (const original of library.originals) {
      const prints = library.prints(original);
      if (!prints) continue;
      for (const one of sought)
        for (const { frame, score } of placesIn(one, prints, 2)) if (score >= LIKE) spots.push({ original, frame, laid, score });
    }
  }
  spots.sort((a, b) => b.score - a.score);
  const near = (a: Spot, b: Spot) =>
    a.original.path === b.original.path && a.laid.flip === b.laid.flip && Math.abs(a.frame - b.frame) < SHORTEST;
  return spots.filter((s, i) => !spots.slice(0, i).some((o) => near(o, s)));
}

/** What explains a shot if it comes from a place. */
function explained(
  { length, reference, mask }: Parameters<typeof soughtIn>[0],
  library: Library,
  rate: Rate,
  original: Original,
  frame: Frames,
  laid: Laid,
): { place: FoundPlace; event: EventPictures; explanation: Explanation } | null {
  const natural = sameSpeed(original.rate, rate) ? 1 : framesPerSecond(original.rate) / framesPerSecond(rate);
  const expected = (offset: Frames) => frame + Math.floor(offset * natural + 1e-6);
  const event: EventPictures = {
    core: innerOf(length),
    length,
    reference,
    // As it was found: what is told comes on top of that.
    source: (n) => {
      const luma = library.frame(original, n);
      return luma && warped(luma, laid);
    },
    sourceFrames: original.frames,
    expected,
    speed: natural,
    listed: 1,
    natural,
    still: original.kind === 'still',
    mask,
  };
  const explanation = explain(event);
  if (!explanation) return null;
  const { line, score } = explanation;
  const speed = line ? hundredths(line.speed / natural) : 1;
  const source = frameOfRun(explanation, expected, 0);
  const [low, high] = explanation.range.map((d) => d - explanation.slip) as [Frames, Frames];
  const place = {
    original,
    source: Math.max(0, source),
    speed,
    pace: speed * natural,
    laid: over(laid, explanation.laid),
    score,
    range: [low, high] as const,
  };
  return { place, event, explanation };
}

const hundredths = (n: number): number => Math.round(n * 100) / 100;

/** A way of laying over another: first the one, then the other. */
function over(one: Laid, other: Laid): Laid {
  const flip = one.flip === other.flip ? '' : one.flip === '' ? other.flip : other.flip === '' ? one.flip : null;
  const angle = (other.rotation * Math.PI) / 180;
  const shape = 16 / 9;
  const [fx, fy] = [other.flip === 'horizontal' ? -1 : 1, other.flip === 'vertical' ? -1 : 1];
  const [across, down] = [one.x * fx * shape * other.scale, one.y * fy * other.scale];
  // Flipped both ways is turned by half.
  return {
    flip: flip ?? '',
    scale: one.scale * other.scale,
    rotation: other.rotation + one.rotation * fx * fy + (flip === null ? 180 : 0),
    x: (across * Math.cos(angle) - down * Math.sin(angle)) / shape + other.x,
    y: across * Math.sin(angle) + down * Math.cos(angle) + other.y,
  };
}

function halved(shot: SeenShot, reference: SeenReference, library: Library, depth: number): SeenShot[] {
  const middle = shot.from + ((shot.until - shot.from) >> 1);
  const parts = [
    { ...shot, until: middle },
    { ...shot, from: middle },
  ].flatMap((part) => findShot(part, reference, library, depth + 1));
  return parts.some((p) => p.is === 'found') ? parts : [shot];
}

/** Frames in a row that must show something else for a shot to be parted. */
const STRANGE: Frames = 12;
/** Agreement below which a frame shows something else, as a share of what its better frames have. */
const [ELSE, UPPER] = [0.45, 0.75];

/** The shot without what is strange at its head or tail, which is looked for by itself. */
function withoutStrange(
  shot: SeenShot,
  place: FoundPlace,
  event: EventPictures,
  explanation: Explanation,
  reference: SeenReference,
  library: Library,
  depth: number,
): SeenShot[] {
  const { from, until } = shot;
  const agreed = (offset: Frames): number => {
    const [r, s] = [event.reference(offset), event.source(frameOfRun(explanation, event.expected, offset), offset)];
    return r && s ? agreement(comparable(r, event.mask), comparable(warped(s, explanation.laid), event.mask)) : 0;
  };
  const values = Array.from({ length: until - from }, (_, offset) => agreed(offset));
  const least =
    ELSE *
    (quantileSorted(
      [...values].sort((a, b) => a - b),
      UPPER,
    ) ?? 1);
  let [head, tail] = [0, until - from];
  while (head < tail && (values[head] as number) < least) head++;
  while (tail > head && (values[tail - 1] as number) < least) tail--;
  if (head < STRANGE) head = 0;
  if (until - from - tail < STRANGE) tail = until - from;
  if (head === 0 && tail === until - from) return [shot];
  const lost = (a: Frames, b: Frames) =>
    findShot({ from: a, until: b, is: 'lost', found: null, others: [], join: null }, reference, library, depth + 1);
  const own = values.slice(head, tail);
  const found = { ...place, source: frameOfPlace(place, head), score: own.reduce((a, b) => a + b, 0) / own.length };
  return [
    ...(head > 0 ? lost(from, from + head) : []),
    { ...shot, from: from + head, until: from + tail, found },
    ...(tail < until - from ? lost(from + tail, until) : []),
  ];
}
