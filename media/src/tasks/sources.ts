import {
  coarse,
  type Frame,
  type Frames,
  GRID,
  isMoving,
  type Luma,
  laidOnGrid,
  layOfPart,
  type Mask,
  missingInside,
  NATIVE,
  type Original,
  type Part,
  poseAt,
  type Shot,
  wholePart,
} from '@gemello/core';
import { LRUCache } from 'lru-cache';
import { readLuma, readPartLuma } from '../compose';
import { LumaStrip, printsOf } from '../strip';
import type { Report, StopSignal } from './task';

/** The small pictures of what a cut is made from, as the cut lays them. */
export interface Sources {
  /** The picture of a frame of a shot's original, laid as the cut has it at a record frame; null where there is none. Throws what is wrong with the file. */
  luma(shot: Shot, frame: Frames, record: Frames): Luma | null;
  /** The picture of a frame of an original by itself; null where there is none. */
  frame(original: Original, frame: Frames): Luma | null;
  /** The picture of a frame of a shot's original, coarse: kept, since events that follow each other ask for the same. */
  coarse(shot: Shot, frame: Frames, mask: Mask): Float32Array | null;
  /** The prints of an original. */
  prints(original: Original): Int8Array;
  /** The prints of a shot's original; null where the cut does not lay it as it is. */
  printsAsLaid(shot: Shot): Int8Array | null;
  close(): void;
}

/** An original up to this many frames is read whole the first time it is needed; of a longer one only what is asked for. */
const READ_WHOLE: Frames = 6000;
/** Frames read around one that is asked for where a clip is not read whole, each way. */
const AROUND: Frames = 300;
/** Strips, and parts of long clips, that are held at once: memory does not grow with the cut. */
const [HELD, RANGES] = [64, 8];
/** Frames of one clip that are held before they make room. */
const MOST_OF_ONE = 8 * AROUND;
/** Coarse pictures that are held, 2 kB each, and bytes of prints. */
const [COARSE_HELD, PRINTS_HELD] = [16_000, 64 * 1024 * 1024];

/** Opens the sources of a cut. Strips are kept in `cache`, or in memory where that is null. */
export function openSources(frame: Frame, cache: string | null, report: Report, signal: StopSignal): Sources {
  const strips = new Map<string, LumaStrip>();
  const [ranges, natives] = [partsHeld(), partsHeld()];
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
  const ranged = (part: Part, n: Frames): Luma | null => {
    const { original, event } = part.shot;
    return ranges(`${original?.path} ${event.placement ? event.key : ''}`, n, (from, to, take) =>
      readPartLuma(part, frame, GRID, from, to, take),
    );
  };
  const isThere = (original: Original, n: Frames): boolean =>
    n >= 0 && (original.kind === 'still' || n < original.frames) && missingInside(original, { in: n, out: n + 1 }) === 0;
  const plainly = (original: Original, n: Frames, part: () => Part): Luma | null => {
    if (original.frames > READ_WHOLE && !LumaStrip.isKept(original, GRID, cache)) return ranged(part(), n);
    const kept = strip(original);
    return n < kept.frames ? kept.frame(n) : null;
  };
  /** All of an original's picture, twice as large as the grid: for what is laid otherwise from frame to frame. */
  const native = (original: Original, n: Frames): Uint8Array | null =>
    natives(original.path, n, (from, to, take) => readLuma(original, NATIVE, from, Math.min(original.frames, to), take));
  const laid = (original: Original, n: Frames, part: Part): Luma | null => {
    const lay = layOfPart(part, frame, GRID);
    if (!isMoving(part.shot.event.placement) && isCoarserThanNative(lay, original)) return ranged(part, n);
    const small = native(original, n);
    return small && laidOnGrid(small, lay, original.raster);
  };
  const luma = (shot: Shot, n: Frames, record: Frames): Luma | null => {
    const { original } = shot;
    if (!original || !isThere(original, n)) return null;
    if (isPlain(shot, frame)) return plainly(original, n, () => partOf(shot));
    return laid(original, n, partOf(shot, record - shot.event.record.in));
  };
  const coarsely = new LRUCache<string, Float32Array>({ max: COARSE_HELD });
  const printed = new LRUCache<string, Int8Array>({ maxSize: PRINTS_HELD, sizeCalculation: (p) => p.length + 1 });
  const prints = (original: Original): Int8Array => {
    const known = printed.get(original.path) ?? printsOf(original, cache, report, signal);
    printed.set(original.path, known);
    return known;
  };
  let coarseMask: Mask | null = null;
  return {
    luma,
    coarse(shot, n, mask) {
      const whole = isPlain(shot, frame);
      if (mask !== coarseMask) coarsely.clear();
      coarseMask = mask;
      const key = `${n} ${shot.original?.path}`;
      const known = whole ? coarsely.get(key) : undefined;
      if (known) return known;
      const picture = luma(shot, n, shot.event.record.in);
      const made = picture && coarse(picture, mask);
      if (made && whole) coarsely.set(key, made);
      return made;
    },
    frame(original, n) {
      if (!isThere(original, n)) return null;
      const part = () => wholePart(original, n);
      return fills(original, frame) ? plainly(original, n, part) : laid(original, n, part());
    },
    prints,
    printsAsLaid: (shot) => (shot.original && isPlain(shot, frame) ? prints(shot.original) : null),
    close() {
      for (const one of strips.values()) one.close();
    },
  };
}

type Take = (luma: Uint8Array, number: Frames) => undefined;

/** Frames of long clips: those around one that is asked for are read together, and parts of a few clips are held. */
function partsHeld(): (key: string, n: Frames, read: (from: Frames, to: Frames, take: Take) => void) => Uint8Array | null {
  const parts = new Map<string, Map<Frames, Uint8Array>>();
  return (key, n, read) => {
    const known = parts.get(key) ?? new Map<Frames, Uint8Array>();
    parts.set(key, known);
    const [oldest] = parts;
    if (parts.size > RANGES && oldest) parts.delete(oldest[0]);
    if (known.has(n)) return known.get(n) ?? null;
    if (known.size > MOST_OF_ONE) known.clear();
    read(Math.max(0, n - AROUND), n + AROUND, (luma, number) => {
      if (!known.has(number)) known.set(number, luma.slice());
      return undefined;
    });
    return known.get(n) ?? null;
  };
}

/** True where a shot's picture in the cut is the whole of its original. */
const isPlain = ({ original, event }: Shot, frame: Frame): boolean =>
  original !== null && event.placement === null && fills(original, frame);

/** True where a picture is laid so large that its small picture has fewer points than the grid. */
const isCoarserThanNative = ({ a, b, c, d }: ReturnType<typeof layOfPart>, { raster }: Original): boolean =>
  Math.sqrt(Math.abs(a * d - b * c)) * raster.width > NATIVE.width * 1.05;

/** True where a clip fills the frame by itself, so that its own small picture is that of the cut. */
function fills({ raster, pixelAspect }: Original, frame: Frame): boolean {
  const shape = (f: Frame) => (f.raster.width * f.pixelAspect) / f.raster.height;
  return Math.abs(shape({ raster, pixelAspect: pixelAspect ?? 1 }) / shape(frame) - 1) < SAME_SHAPE;
}

const SAME_SHAPE = 0.01;

/** A shot as it is laid so many frames into it. */
const partOf = (shot: Shot, into: Frames = 0): Part => ({
  shot,
  layer: 0,
  sourceFrame: shot.sourceStart,
  // How much of it is seen is for who lays it over something.
  pose: { ...poseAt(shot.event.placement, into), opacity: 1 },
  side: 'alone',
  join: null,
  share: 1,
});
