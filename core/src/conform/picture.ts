import { asDelivered, type Cdl, FILLING, newEvent, type Pose, type Raster, type Transition, type Viewing } from '../edit';
import type { Original } from '../originals';
import { contains, type Frames, range } from '../time';
import { type Conform, type Layer, type Shot, sourceFrameAt } from './compile';
import { covers, type Frame, type Lay, layOf, poseAt } from './geometry';
import { runOf } from './timemap';

/**
 * One shot's part in the picture at a frame. Two parts of one layer that follow each other with the same `join` are
 * the two sides of a transition.
 */
export interface Part {
  readonly shot: Shot;
  readonly layer: number;
  readonly sourceFrame: Frames;
  readonly pose: Pose;
  /** `alone`, or which side of a running transition. */
  readonly side: 'alone' | 'leaving' | 'incoming';
  readonly join: Transition | null;
  /** How much of the incoming side is seen, above 0 and below 1; 1 when no transition runs. */
  readonly share: number;
}

/** What stands at a record frame, from the bottom layer up; only the first `count` parts count. Meant to be used again and again. */
export interface Picture {
  readonly parts: readonly Part[];
  readonly count: number;
}

type Filled<T> = { -readonly [K in keyof T]: T[K] };
interface Filling {
  parts: Filled<Part>[];
  count: number;
}

export const newPicture = (): Picture => ({ parts: [], count: 0 });

/**
 * What stands at record frame n, every layer with what it shows. Nothing is left out that lies below another: whether
 * a picture hides what is below it is known when it is drawn. With a `picture` handed over no memory is taken.
 */
export function pictureAt(conform: Conform, record: Frames, picture: Picture = newPicture()): Picture {
  const filling = picture as Filling;
  filling.count = 0;
  for (let i = 0; i < conform.layers.length; i++) layPart(filling, conform.layers[i] as Layer, i, record);
  return picture;
}

function layPart(picture: Filling, layer: Layer, at: number, record: Frames): void {
  const after = firstAfter(layer.shots, record);
  const last = layer.shots[after - 1];
  const shot = last && contains(last.event.record, record) ? last : stillRunning(layer, after - 2, record);
  const next = layer.shots[after];
  const early = next?.event.transitionIn;
  // A transition that is centred on the cut begins while the event before it still stands.
  if (next && early && early.before > 0 && record >= next.event.record.in - early.before) {
    mix(picture, at, shot, next, early, record);
    return;
  }
  if (!shot) return;
  const join = shot.event.transitionIn;
  const into = join ? record - shot.event.record.in + join.before : 0;
  if (!join || into >= join.duration) {
    add(picture, at, shot, record, 'alone', null, 1);
    return;
  }
  const previous = shot === last ? layer.shots[after - 2] : null;
  const stillSeen = previous && previous.event.record.out + previous.tail > record ? previous : null;
  // Before a transition that begins after its cut, what leaves still stands alone.
  if (into < 0) {
    if (stillSeen && join.from === 'previous') add(picture, at, stillSeen, record, 'alone', null, 1);
    return;
  }
  mix(picture, at, stillSeen, shot, join, record);
}

/** Of events that overlap the later one is shown, and the earlier one again where that has ended. */
function stillRunning(layer: Layer, from: number, record: Frames): Shot | null {
  for (let i = from; i >= 0 && (layer.reach[i] as Frames) > record; i--) {
    const shot = layer.shots[i] as Shot;
    if (contains(shot.event.record, record)) return shot;
  }
  return null;
}

/**
 * Both sides of a transition over N frames: at its k-th frame, k from 0, the incoming side has a share of
 * (k + 1)/(N + 1). So both sides are seen on every one of its frames, and turned round in time it is the same
 * (docs/decisions/0013).
 */
function mix(picture: Filling, layer: number, leaving: Shot | null, incoming: Shot, join: Transition, record: Frames): void {
  const into = record - incoming.event.record.in + join.before;
  const share = (into + 1) / (join.duration + 1);
  if (leaving && join.from === 'previous') add(picture, layer, leaving, record, 'leaving', join, share);
  add(picture, layer, incoming, record, 'incoming', join, share);
}

function add(
  picture: Filling,
  layer: number,
  shot: Shot,
  record: Frames,
  side: Part['side'],
  join: Transition | null,
  share: number,
): void {
  if (shot.drawn === 'nothing') return;
  const { event } = shot;
  const pose = poseAt(event.placement, record - event.record.in);
  const sourceFrame = sourceFrameAt(shot, record);
  const part = picture.parts[picture.count++];
  if (!part) {
    picture.parts.push({ shot, layer, sourceFrame, pose, side, join, share });
    return;
  }
  part.shot = shot;
  part.layer = layer;
  part.sourceFrame = sourceFrame;
  part.pose = pose;
  part.side = side;
  part.join = join;
  part.share = share;
}

/**
 * Index of the first shot that begins after the frame; the number of shots when none does. Halving by hand: asked for each
 * picture, a library's costs two and a half times as much (bench/conform.ts).
 */
export function firstAfter(shots: readonly Shot[], record: Frames): number {
  let low = 0;
  let high = shots.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((shots[middle] as Shot).event.record.in <= record) low = middle + 1;
    else high = middle;
  }
  return low;
}

const NO_FLIP = { flipX: false, flipY: false };

/** Where a part's picture lies on a canvas that shows the whole frame. */
export function layOfPart({ shot, pose }: Part, frame: Frame, canvas: Raster): Lay {
  const { raster, pixelAspect } = shot.original ?? { raster: frame.raster, pixelAspect: frame.pixelAspect };
  return layOf(pose, shot.event.placement ?? NO_FLIP, shot.fit, { raster, pixelAspect: pixelAspect ?? 1 }, frame, canvas);
}

/**
 * Where a part lies. A picture that nobody placed has its edges on whole pixels, so that bars and letterboxes are sharp
 * and nothing is softened.
 */
export function snapped(part: Part, frame: Frame, canvas: Raster): Lay {
  const lay = layOfPart(part, frame, canvas);
  const { original, event } = part.shot;
  if (
    event.placement !== null &&
    (part.pose.scaleX !== 1 || part.pose.scaleY !== 1 || part.pose.x !== 0 || part.pose.y !== 0 || part.pose.rotation !== 0)
  )
    return lay;
  const { width, height } = original?.raster ?? frame.raster;
  const [left, right] = [Math.round(lay.e), Math.round(lay.e + lay.a * width)];
  const [top, bottom] = [Math.round(lay.f), Math.round(lay.f + lay.d * height)];
  if (left === right || top === bottom) return lay;
  return { ...lay, a: (right - left) / width, d: (bottom - top) / height, e: left, f: top };
}

/** True when a part hides all that lies below it, unless its picture has an alpha of its own. */
export function hidesBelow(part: Part, frame: Frame): boolean {
  if (part.side !== 'alone') return false;
  const { shot, pose } = part;
  if (shot.drawn !== 'picture' || !shot.original) return shot.drawn !== 'title' && shot.drawn !== 'generator' && pose.opacity === 1;
  return covers(layOfPart(part, frame, frame.raster), pose, frame.raster);
}

/** Parts of a picture that are seen where some layers are left out by name: from the highest that hides what lies below it. */
export function partsWithout(conform: Conform, parts: readonly Part[], without: readonly string[]): readonly Part[] {
  const seen = without.length === 0 ? parts : parts.filter(({ layer }) => !without.includes(conform.layers[layer]?.name ?? ''));
  const lowest = seen.findLastIndex((part) => hidesBelow(part, conform.frame));
  return seen.slice(Math.max(0, lowest));
}

/** Titles lie over a picture and leave most of it to be seen. */
export const isTitle = (part: Part): boolean => part.shot.drawn === 'title' || part.shot.drawn === 'generator';

/**
 * Record frames at which a shot is all the picture there is but for titles: no transition runs, no layer lies above it,
 * and it hides what lies below or nothing does.
 */
export function framesAlone(conform: Conform, shot: Shot): Frames[] {
  const frames: Frames[] = [];
  const picture = newPicture();
  for (let n = shot.event.record.in; n < shot.event.record.out; n++)
    if (isAlone(conform, pictureAt(conform, n, picture), shot)) frames.push(n);
  return frames;
}

function isAlone(conform: Conform, { parts, count }: Picture, shot: Shot): boolean {
  let top = count - 1;
  while (top >= 0 && isTitle(parts[top] as Part)) top--;
  const part = parts[top];
  if (!part || part.shot !== shot || part.side !== 'alone') return false;
  return top === 0 || hidesBelow(part, conform.frame);
}

/** What is drawn at once: a part by itself, or both sides of a transition, over what lies below. Without a leaving side it comes in from that. */
export type Drawing<T> = { readonly alone: T } | { readonly leaving: T | null; readonly incoming: T };

/** Takes the parts of a picture, or what stands for them, in the order in which they are drawn, both sides of a transition together. */
export function inOrderDrawn<T>(all: readonly T[], partOf: (one: T) => Part): Drawing<T>[] {
  const drawn: Drawing<T>[] = [];
  for (let i = 0; i < all.length; i++) {
    const one = all[i] as T;
    const part = partOf(one);
    if (part.side === 'alone') {
      drawn.push({ alone: one });
      continue;
    }
    const next = all[i + 1];
    const other = next !== undefined ? partOf(next) : null;
    const pair = part.side === 'leaving' && other?.join === part.join && other.layer === part.layer;
    drawn.push(pair ? { leaving: one, incoming: next as T } : { leaving: null, incoming: one });
    if (pair) i++;
  }
  return drawn;
}

/** The parts of a picture as a list of their own. */
export const partsOf = ({ parts, count }: Picture): Part[] => parts.slice(0, count);

/** A whole clip as a part of its own, as it is looked at outside any cut. */
export function wholePart(original: Original, frame: Frames, cdl: Cdl | null = null, viewing: Viewing | null = null): Part {
  const event = asDelivered(
    newEvent({ key: '', sourceRate: original.rate, source: range(0, original.frames), record: range(0, original.frames), cdl }),
  );
  const shot: Shot = {
    event,
    original,
    exempt: false,
    drawn: 'picture',
    sourceStart: 0,
    slip: 0,
    run: runOf(event, original.rate),
    cdl,
    lut: null,
    viewing,
    fit: 'inside',
    tail: 0,
  };
  return { shot, layer: 0, sourceFrame: frame, pose: FILLING, side: 'alone', join: null, share: 1 };
}
