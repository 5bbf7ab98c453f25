import { type Frame, type Frames, GRID, type Luma, missingInside, type Original, type Part, poseAt, type Shot } from '@gemello/core';
import { readPartLuma } from '../compose';
import { LumaStrip } from '../strip';
import type { Report, StopSignal } from './task';

/** The small pictures of what a cut is made from, as the cut lays them. */
export interface Sources {
  /** The picture of a frame of a shot's original; null where there is none. Throws what is wrong with the file. */
  luma(shot: Shot, frame: Frames): Luma | null;
  /** All small pictures of an original, whole. */
  strip(original: Original): LumaStrip;
  close(): void;
}

/** An original up to this many frames is read whole the first time it is needed; of a longer one only what is asked for. */
const READ_WHOLE: Frames = 6000;
/** Frames read around one that is asked for where a clip is not read whole, each way. */
const AROUND: Frames = 300;
/** Strips, and parts of long clips, that are held at once: memory does not grow with the cut. */
const [HELD, RANGES] = [64, 8];

/** Opens the sources of a cut. Strips are kept in `cache`, or in memory where that is null. */
export function openSources(frame: Frame, cache: string | null, report: Report, signal: StopSignal): Sources {
  const strips = new Map<string, LumaStrip>();
  const ranges = new Map<string, Map<Frames, Uint8Array>>();
  const strip = (original: Original): LumaStrip => {
    const known = strips.get(original.path);
    if (known) return known;
    const made = LumaStrip.of(original, GRID, cache, report, signal);
    if (strips.size >= HELD) {
      const [oldest] = strips;
      oldest?.[1].close();
      strips.delete(oldest?.[0] ?? '');
    }
    strips.set(original.path, made);
    return made;
  };
  const ranged = (shot: Shot, n: Frames): Luma | null => {
    const key = `${shot.original?.path} ${shot.event.placement ? shot.event.key : ''}`;
    const known = ranges.get(key) ?? new Map<Frames, Uint8Array>();
    ranges.set(key, known);
    const [oldest] = ranges;
    if (ranges.size > RANGES && oldest) ranges.delete(oldest[0]);
    if (!known.has(n))
      readPartLuma(partOf(shot), frame, GRID, Math.max(0, n - AROUND), n + AROUND, (luma, number) => {
        if (!known.has(number)) known.set(number, luma.slice());
        return undefined;
      });
    return known.get(n) ?? null;
  };
  return {
    strip,
    luma(shot, n) {
      const { original } = shot;
      if (!original || n < 0 || (original.kind !== 'still' && n >= original.frames)) return null;
      if (missingInside(original, { in: n, out: n + 1 }) > 0) return null;
      const plain = shot.event.placement === null && fills(original, frame);
      if (!plain || (original.frames > READ_WHOLE && !LumaStrip.isKept(original, GRID, cache))) return ranged(shot, n);
      const kept = strip(original);
      return n < kept.frames ? kept.frame(n) : null;
    },
    close() {
      for (const one of strips.values()) one.close();
    },
  };
}

/** True where a clip fills the frame by itself, so that its own small picture is that of the cut. */
function fills({ raster, pixelAspect }: Original, frame: Frame): boolean {
  const shape = (f: Frame) => (f.raster.width * f.pixelAspect) / f.raster.height;
  return Math.abs(shape({ raster, pixelAspect: pixelAspect ?? 1 }) / shape(frame) - 1) < SAME_SHAPE;
}

const SAME_SHAPE = 0.01;

/** A shot as it is laid at its first frame; one that moves on the way is compared as it begins. */
const partOf = (shot: Shot): Part => ({
  shot,
  layer: 0,
  sourceFrame: shot.sourceStart,
  pose: poseAt(shot.event.placement, 0),
  side: 'alone',
  join: null,
  share: 1,
});
