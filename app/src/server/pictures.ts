import {
  type Cdl,
  type Conform,
  type Frames,
  frameAt,
  hasFrame,
  type Original,
  type Part,
  partsOf,
  pictureAt,
  poseAt,
  referencePart,
  runOf,
  type Shot,
  type StandingEvent,
  shotOf,
  sourceFrameAt,
  type Viewing,
  wholePart,
} from '@gemello/core';
import { type Composition, frameOfClip, heightFor, type Show } from '@gemello/media';
import { LRUCache } from 'lru-cache';
import { RequestError } from './http';
import { pictureMark } from './marks';
import { mediaThreads } from './media';
import type { Workspace } from './workspace';

/** Which picture of an event is asked for. `frame` is a record frame, from 00:00:00:00. */
export interface PictureRequest {
  readonly side: 'event' | 'conform' | 'reference' | 'candidate' | 'original';
  readonly event: string | null;
  readonly frame: Frames;
  /** For `candidate` and `original`. */
  readonly path: string | null;
  /** Pixels, even, 64 to 1920. */
  readonly width: number;
  /** Tried on, in place of what is decided. */
  readonly cdl: Cdl | null;
}

/** A JPEG of what is asked for. Throws RequestError 404 where there is no picture. */
export async function picture(w: Workspace, request: PictureRequest): Promise<Uint8Array> {
  return drawn(w, compositionFor(w, request), request.width);
}

/** Pictures that were drawn last, by what they were drawn from: several people look at one cut. Bytes. */
const kept = new LRUCache<string, Uint8Array>({ maxSize: 64 * 1024 * 1024, sizeCalculation: (jpeg) => jpeg.length });
/** Those that are being drawn: whoever asks for one of them meanwhile gets the same. */
const underWay = new Map<string, Promise<Uint8Array>>();

/** A composition as a JPEG. Throws RequestError 404 where there is nothing in it. */
export async function drawn(w: Workspace, composition: Composition | null, width: number): Promise<Uint8Array> {
  if (!composition || composition.parts.length === 0) throw new RequestError(404, 'There is no picture here.');
  if (composition.parts.every(isMissing)) throw new RequestError(404, 'The original has no such frame.');
  const from = pictureMark(composition, width, w);
  const known = kept.get(from) ?? underWay.get(from);
  if (known) return known;
  const { raster, pixelAspect } = composition.frame;
  const made = mediaThreads().draw({ composition, width, height: heightFor(width, raster, pixelAspect) });
  underWay.set(from, made);
  try {
    const jpeg = await made;
    kept.set(from, jpeg);
    return jpeg;
  } finally {
    underWay.delete(from);
  }
}

/** A PNG of what is seen at a record frame, at the size of the cut's frame. */
export async function still(w: Workspace, frame: Frames, show: Show): Promise<Uint8Array> {
  if (!w.list) throw new RequestError(409, 'There is no list yet.');
  return mediaThreads().still({
    list: w.list,
    originals: [...w.reachable.values()],
    reference: w.reference,
    frame,
    show,
    size: null,
  });
}

/** True when a part has no picture to show: its original has no such frame. */
const isMissing = ({ shot, sourceFrame }: Part): boolean =>
  shot.drawn === 'picture' && shot.original !== null && !hasFrame(shot.original, sourceFrame);

const whole = (clip: Original, frame: Frames, cdl: Cdl | null, viewing: Viewing | null = null): Composition => ({
  parts: [wholePart(clip, frame, cdl, viewing)],
  frame: frameOfClip(clip),
});

function compositionFor(w: Workspace, { side, event, frame, path, cdl }: PictureRequest): Composition | null {
  if (side === 'reference') return ofReference(w, frame);
  if (side === 'original') {
    const original = path ? (w.reachable.get(path) ?? w.standIns.get(path)) : null;
    const viewing = (event && w.shown && shotOf(w.shown, event)?.viewing) || null;
    return original ? whole(original, Math.min(frame, original.frames - 1), null, viewing) : null;
  }
  if (!w.shown) return null;
  if (side === 'conform') return { parts: partsOf(pictureAt(w.shown, frame)), frame: w.shown.frame };
  const shot = event ? shotOf(w.shown, event) : null;
  if (!shot) return null;
  if (side === 'candidate') {
    const contender = w.pairings.find((p) => p.event.key === event)?.contenders.find((c) => c.original.path === path);
    if (!contender) return null;
    const { original, sourceStartFrame } = contender;
    const run = runOf(shot.event, w.shown.rate, original.kind === 'still' ? shot.event.sourceRate : original.rate);
    const into = frameAt(run, frame - shot.event.record.in);
    return whole(original, original.kind === 'still' ? 0 : sourceStartFrame + into, null);
  }
  const accepted = w.pairings.find((p) => p.event.key === event)?.acceptedPath;
  const clip = shot.original ?? (accepted ? (w.standIns.get(accepted) ?? null) : null);
  return clip && alone({ ...shot, original: clip, drawn: 'picture', cdl: cdl ?? shot.cdl }, frame, w.shown);
}

/** One shot by itself, laid as the cut lays it. */
export function alone(shot: Shot, record: Frames, { frame }: Conform): Composition {
  const event: StandingEvent = shot.event;
  const pose = poseAt(event.placement, record - event.record.in);
  return {
    parts: [{ shot, layer: 0, sourceFrame: sourceFrameAt(shot, record), pose, side: 'alone', join: null, share: 1 }],
    frame,
  };
}

function ofReference(w: Workspace, frame: Frames): Composition | null {
  if (!w.reference) return null;
  const { movie, lay } = w.reference;
  const part = referencePart(movie, lay, frame);
  // Before anyone has found out where its picture lies, its whole frame is shown; without a list there is nothing to lay it in.
  return part && { parts: [part], frame: lay.fit && w.conform ? w.conform.frame : frameOfClip(movie) };
}
