import {
  type Area,
  type Conform,
  compile,
  type Frame,
  type Frames,
  findPictureArea,
  framesAlone,
  isTitle,
  newPicture,
  type Original,
  onGrid,
  type Part,
  pictureAt,
  prepare,
  type Sample,
  type Shot,
  type Standing,
  sourceFrameAt,
} from '@gemello/core';
import { frameOfClip, titleArea, titleText } from '../compose';
import { LumaStrip } from '../strip';
import type { Report, StopSignal } from './task';

/** What proofs are made from. */
export interface ProofBasis {
  /** The cut as it stands, with its pairs. */
  readonly list: Standing;
  readonly originals: readonly Original[];
  readonly reference: Original;
  /** Folder for the reference's small pictures, kept between proofs; null keeps them in memory. */
  readonly cache: string | null;
}

/** At most this many frames of an event take part in finding a slip; the trace has them all. */
const MOST_SAMPLES = 48;

/** What events are compared with. */
export interface Against {
  readonly conform: Conform;
  readonly strip: LumaStrip;
  readonly referenceStart: Frames;
  readonly area: Area;
  /** The frame that the grid shows. */
  readonly frame: Frame;
}

/** The shape of two frames counts as the same when they differ by less than this share. */
const SAME_SHAPE = 0.01;

/** Pictures are laid into the cut's own frame where the reference has its shape, else into that of the reference. */
function frameToCompare({ frame }: Conform, reference: Original): Frame {
  const theirs = frameOfClip(reference);
  const shape = ({ raster, pixelAspect }: Frame) => (raster.width * pixelAspect) / raster.height;
  return Math.abs(shape(frame) / shape(theirs) - 1) < SAME_SHAPE ? frame : theirs;
}

/** The area without where titles lie over a shot. */
export function withoutTitles(conform: Conform, alone: readonly Frames[], area: Area): Area {
  const texts = new Set<string>();
  const picture = newPicture();
  for (const n of alone) {
    const { parts, count } = pictureAt(conform, n, picture);
    for (let i = 0; i < count; i++) if (isTitle(parts[i] as Part)) texts.add(titleText((parts[i] as Part).shot.event));
  }
  const { width, height } = conform.frame.raster;
  return texts.size === 0 ? area : { ...area, holes: [...texts].map((t) => onGrid(titleArea(t, width, height), 2)) };
}

/** Opens what events are compared with; the strip is to be closed. */
export function openProof({ list, originals, reference, cache }: ProofBasis, report: Report, signal: StopSignal): Against {
  const conform = compile(list, originals);
  const strip = LumaStrip.of(reference, cache, report, signal);
  const area = conform.referenceFit ? onGrid(conform.referenceFit) : findPictureArea(spread(strip.frames, 60).map((n) => strip.frame(n)));
  return { conform, strip, referenceStart: referenceStartOf(reference, conform), area, frame: frameToCompare(conform, reference) };
}

/** A reference whose timecode covers the cut's start is laid by timecode; any other by its first frame. */
export function referenceStartOf(reference: Original, conform: Conform): Frames {
  const covers = reference.hasTimecode && reference.start <= conform.span.in && conform.span.in < reference.start + reference.frames;
  return covers ? reference.start : conform.span.in;
}

/** At most `most` places spread evenly over `total`. */
function spread(total: number, most: number): number[] {
  const count = Math.min(total, most);
  return Array.from({ length: count }, (_, i) => Math.floor(((i + 0.5) * total) / count));
}

/** Record frames of a shot that can be compared: it stands alone there, and the reference has them. */
export const comparable = ({ conform, strip, referenceStart }: Against, shot: Shot): Frames[] =>
  framesAlone(conform, shot).filter((n) => n - referenceStart >= 0 && n - referenceStart < strip.frames);

/** Those of them that take part in finding a slip. */
export const sampledOf = (alone: readonly Frames[]): Frames[] => spread(alone.length, MOST_SAMPLES).map((i) => alone[i] as Frames);

/** Pictures of the reference where a shot stands, with the frames of its source that the list puts there. */
export function samplesOf(against: Against, shot: Shot): Sample[] {
  const alone = comparable(against, shot);
  const area = withoutTitles(against.conform, alone, against.area);
  return sampledOf(alone).map((n) => ({
    reference: prepare(against.strip.frame(n - against.referenceStart), area),
    sourceFrame: sourceFrameAt(shot, n),
  }));
}
