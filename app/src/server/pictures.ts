import { type Cdl, type Frames, hasFrame, type Original, pictureAt, shotOf, sourceFrameAt, sourceOffset } from '@gemello/core';
import { type GrabPart, heightFor, referenceStartOf } from '@gemello/media';
import { RequestError } from './http';
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

const whole = (clip: Original, frame: Frames, cdl: Cdl | null): GrabPart => ({ clip, frame, share: 1, cdl });

/** A JPEG of what is asked for. Throws RequestError 404 where there is no picture. */
export async function picture(w: Workspace, request: PictureRequest): Promise<Uint8Array> {
  const parts = partsFor(w, request);
  const first = parts[0];
  if (!first) throw new RequestError(404, 'There is no picture here.');
  if (!parts.some((part) => hasFrame(part.clip, part.frame))) throw new RequestError(404, 'The original has no such frame.');
  const raster = (first.clip as Original).raster;
  return mediaThreads().grab({ parts, width: request.width, height: heightFor(request.width, raster) });
}

function partsFor(w: Workspace, { side, event, frame, path, cdl }: PictureRequest): GrabPart[] {
  if (side === 'reference') return referenceParts(w, frame);
  if (side === 'original') {
    const original = path ? (w.reachable.get(path) ?? w.standIns.get(path)) : null;
    return original ? [whole(original, Math.min(frame, original.frames - 1), null)] : [];
  }
  if (!w.shown) return [];
  if (side === 'conform')
    return pictureAt(w.shown, frame).flatMap((part) =>
      part.shot.original ? [{ clip: part.shot.original, frame: part.sourceFrame, share: part.share, cdl: part.shot.cdl }] : [],
    );
  const shot = event ? shotOf(w.shown, event) : null;
  if (!shot) return [];
  if (side === 'candidate') {
    const contender = w.pairings.find((p) => p.event.id === event)?.contenders.find((c) => c.original.path === path);
    if (!contender) return [];
    const into = sourceOffset(shot.event.retime, shot.event.source, frame - shot.event.record.in);
    return [whole(contender.original, contender.original.kind === 'still' ? 0 : contender.sourceStartFrame + into, null)];
  }
  const accepted = w.pairings.find((p) => p.event.id === event)?.acceptedPath;
  const clip = shot.original ?? (accepted ? w.standIns.get(accepted) : null);
  return clip ? [whole(clip, sourceFrameAt(shot, frame), cdl ?? shot.cdl)] : [];
}

function referenceParts(w: Workspace, frame: Frames): GrabPart[] {
  if (!w.reference || !w.conform) return [];
  const { movie } = w.reference;
  const n = frame - referenceStartOf(movie, w.conform);
  return n >= 0 && n < movie.frames ? [whole(movie, n, null)] : [];
}
