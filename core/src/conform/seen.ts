import type { Raster } from '../edit';
import type { Frames } from '../time';
import type { Conform, Shot } from './compile';
import { isTitle, layOfPart, newPicture, type Part, pictureAt } from './picture';
import { wipeMask, wipePattern } from './wipe';

/** Where a part lies on a grid that shows the whole frame, and how much of what is below it it hides there, 0..1. */
export function coverageOf(part: Part, conform: Conform, grid: Raster): Float32Array {
  const { width, height } = grid;
  const out = new Float32Array(width * height);
  const { shot, pose, join, share } = part;
  const comes = part.side === 'incoming' && join;
  const pattern = comes ? wipePattern(join) : null;
  const wiped = comes && pattern ? wipeMask(pattern, join.look, share, width, height).incoming : null;
  const strength = pose.opacity * (comes && !wiped ? share : 1);
  const lay = shot.drawn === 'picture' ? layOfPart(part, conform.frame, grid) : null;
  const whole = lay ? lay.a * lay.d - lay.b * lay.c : 1;
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++) {
      if (lay && !isInside(lay, whole, x + 0.5, y + 0.5)) continue;
      out[at] = strength * (wiped ? (wiped[at] as number) : 1);
    }
  return out;
}

function isInside({ a, b, c, d, e, f, crop }: ReturnType<typeof layOfPart>, whole: number, x: number, y: number): boolean {
  if (whole === 0) return false;
  const u = (d * (x - e) - c * (y - f)) / whole;
  const v = (a * (y - f) - b * (x - e)) / whole;
  return u >= crop.left && u < crop.right && v >= crop.top && v < crop.bottom;
}

/** What of a picture may be mixed away, or come through, and still count as seen by itself. */
const WHOLE = 0.995;

/**
 * Where a shot is all that is seen at a record frame, titles aside: 1 for each point of a grid over the whole frame, rows from
 * the top, that shows it and nothing else, one point away from what it shares an edge with; null where it does not stand then.
 */
export function seenAlone(conform: Conform, shot: Shot, record: Frames, grid: Raster): Uint8Array | null {
  const { parts, count } = pictureAt(conform, record, newPicture());
  const at = parts.slice(0, count).findIndex((p) => p.shot === shot);
  const own = parts[at];
  if (!own) return null;
  const seen = coverageOf(own, conform, grid);
  for (let i = at + 1; i < count; i++) {
    const above = parts[i] as Part;
    if (isTitle(above)) continue;
    const hidden = coverageOf(above, conform, grid);
    for (let p = 0; p < seen.length; p++) seen[p] = (seen[p] as number) * (1 - (hidden[p] as number));
  }
  return awayFromEdges(seen, grid);
}

/** The points that are seen whole, and whose neighbours are. */
function awayFromEdges(seen: Float32Array, { width, height }: Raster): Uint8Array {
  const out = new Uint8Array(seen.length);
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++) {
      let all = true;
      for (let j = Math.max(0, y - 1); all && j <= Math.min(height - 1, y + 1); j++)
        for (let i = Math.max(0, x - 1); all && i <= Math.min(width - 1, x + 1); i++) all = (seen[j * width + i] as number) > WHOLE;
      out[at] = all ? 1 : 0;
    }
  return out;
}

/** The frames of a shot on which a part of it is seen alone, and which points of the grid that are. */
export interface PartSeen {
  readonly frames: readonly Frames[];
  readonly where: Uint8Array;
}

/** Of the frame so much must be seen for its picture to be told by it. */
const LEAST = 1 / 32;

const count = (where: Uint8Array): number => where.reduce((sum, v) => sum + v, 0);

/**
 * Where a shot that is never all there is to see is seen alone nevertheless: an inset, or what lies below one. What is seen on
 * all of its frames, or where that is too little, as on most of those on which nothing moves; null where that is too little too.
 */
export function partSeen(conform: Conform, shot: Shot, grid: Raster): PartSeen | null {
  const groups = new Map<string, { where: Uint8Array; frames: Frames[] }>();
  const least = grid.width * grid.height * LEAST;
  for (let n = shot.event.record.in; n < shot.event.record.out; n++) {
    const key = standingAt(conform, n);
    const known = groups.get(key);
    if (known) {
      known.frames.push(n);
      continue;
    }
    const where = seenAlone(conform, shot, n, grid);
    if (where) groups.set(key, { where, frames: [n] });
  }
  const all = [...groups.values()].filter(({ where }) => count(where) >= least);
  if (all.length === 0) return null;
  const shared = new Uint8Array(grid.width * grid.height).fill(1);
  for (const { where } of all) for (let i = 0; i < shared.length; i++) shared[i] = (shared[i] as number) & (where[i] as number);
  if (count(shared) >= least) return { frames: all.flatMap((g) => g.frames).sort((a, b) => a - b), where: shared };
  return all.reduce((most, g) => (g.frames.length > most.frames.length ? g : most));
}

/** What stands at a frame and how it is laid, as a word: the same for frames that look alike but for what moves in their pictures. */
function standingAt(conform: Conform, record: Frames): string {
  const { parts, count: many } = pictureAt(conform, record, newPicture());
  return JSON.stringify(parts.slice(0, many).map(({ shot, pose, side, share }) => [shot.event.key, pose, side, share]));
}
