import { type Conform, frameAt, headFrames, isMoving, type Shot } from '../conform';
import { FILLING, type ListEvent, type Placement, type Raster } from '../edit';
import type { Original } from '../originals';
import { type FrameRange, type Frames, framesPerSecond, inDay, lengthOf, type Rate, sameSpeed, ZERO } from '../time';
import type { ReturnAsked } from './asked';

/** What of an event is drawn into the pictures of its clip, instead of being left to the list. */
export interface Baking {
  readonly speed: SpeedBaked | null;
  /** Where its placement is drawn: what is left of it to the list, since layers below are seen through it. */
  readonly placed: { readonly left: Placement | null } | null;
  /** True where a placement ought to be drawn and cannot be: it moves with the record, and the clip runs at another speed. */
  readonly left: boolean;
  readonly raster: Raster;
}

/** A clip that runs as the cut does. */
export interface SpeedBaked {
  /** The record frames that it has, counted from the record in of its event. */
  readonly record: FrameRange;
  /** Timecode of the source under its first frame, at the rate of the cut. */
  readonly start: Frames;
  readonly rate: Rate;
  readonly headHandle: Frames;
  readonly tailHandle: Frames;
}

/** What is baked of an event. A clip with source frames has the raster of its original, one that is placed that of the cut. */
export function bakingOf(shot: Shot, conform: Conform, { speed, placement, handles, clipRaster }: ReturnAsked): Baking {
  const { event, original } = shot;
  const plain = original?.kind === 'still' || runsAsRecorded(shot);
  const baked = speed === 'baked' && original && !plain ? speedBaked(shot, original, conform.rate, handles) : null;
  const changes = placement === 'baked' && (event.placement !== null || !fillsFrame(original, conform));
  const left = changes && isMoving(event.placement) && !plain && !baked;
  const placed = changes && !left ? { left: opacityAlone(event.placement) } : null;
  return { speed: baked, placed, left, raster: even(rasterOf(original, placed !== null, conform, clipRaster)) };
}

function rasterOf(original: Original | null, placed: boolean, { frame }: Conform, asked: ReturnAsked['clipRaster']): Raster {
  if (placed || !original) return frame.raster;
  const { width, height } = original.raster;
  const share = asked === 'cut' ? Math.min(1, frame.raster.width / width, frame.raster.height / height) : 1;
  return { width: Math.round(width * share), height: Math.round(height * share) };
}

/** Most codecs halve the colour across and down. */
const even = ({ width, height }: Raster): Raster => ({ width: width - (width % 2), height: height - (height % 2) });

/** True where a picture has the shape of the cut's frame. */
const fillsFrame = (original: Original | null, { frame }: Conform): boolean =>
  original === null ||
  original.raster.width * (original.pixelAspect ?? 1) * frame.raster.height ===
    frame.raster.width * frame.pixelAspect * original.raster.height;

/** True where each record frame shows the next source frame. */
export const runsAsRecorded = ({ run }: Shot): boolean => run.kind === 'even' && run.step === run.den && !run.backwards;

/** What the cut shows of an event with its transitions, and handles as far as the original goes, frame by frame of the record. */
function speedBaked(shot: Shot, original: Original, rate: Rate, handles: Frames): SpeedBaked {
  const { event, tail } = shot;
  const seen = { in: -headFrames(event), out: lengthOf(event.record) + tail };
  const at = (n: Frames) => shot.sourceStart + frameAt(shot.run, n);
  const has = (n: Frames) => at(n) >= 0 && at(n) < original.frames;
  let [from, to] = [seen.in, seen.out];
  while (from < to && !has(from)) from++;
  while (to > from && !has(to - 1)) to--;
  while (from <= seen.in && seen.in - from < handles && has(from - 1)) from--;
  while (to >= seen.out && to - seen.out < handles && has(to)) to++;
  return {
    record: { in: from, out: to },
    start: countedAt(original.start + at(from), original.rate, rate),
    rate,
    headHandle: seen.in - from,
    tailHandle: to - seen.out,
  };
}

/** The source frames under record frames of an event; empty where there are none. */
export function bakedFrames(shot: Shot, { record }: SpeedBaked): { wanted: FrameRange; given: FrameRange } {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let n = record.in; n < record.out; n++) {
    const at = shot.sourceStart + frameAt(shot.run, n);
    [low, high] = [Math.min(low, at), Math.max(high, at)];
  }
  const given = high >= low ? { in: low, out: high + 1 } : { in: 0, out: 0 };
  return { wanted: given, given };
}

/** A moment of the source's clock, as frames of another rate count it; the frame it falls in. */
const countedAt = (frame: Frames, from: Rate, to: Rate): Frames =>
  inDay(sameSpeed(from, to) ? frame : Math.floor((frame * Math.round(framesPerSecond(to))) / Math.round(framesPerSecond(from))), to);

/** A placement of which only how far the picture is seen through is left. */
function opacityAlone(placement: Placement | null): Placement | null {
  if (!placement) return null;
  const { flipX: _, flipY: __, fit: ___, keys: ____, ...pose } = FILLING;
  const { opacity } = placement;
  const keys = placement.keys.map((key) => ({ ...pose, record: key.record, opacity: key.opacity }));
  return [placement, ...keys].every((k) => k.opacity === 1) ? null : { ...FILLING, opacity, keys };
}

/** An event that points at a clip in which its speed is baked: as long as its record, at natural speed. */
export const bakedEvent = (event: ListEvent, { record, start, rate }: SpeedBaked): ListEvent => ({
  ...event,
  retime: { kind: 'natural' },
  anchor: null,
  phase: ZERO,
  rateMode: 'usual',
  sourceRate: rate,
  source: { in: start - record.in, out: start - record.in + lengthOf(event.record) },
});
