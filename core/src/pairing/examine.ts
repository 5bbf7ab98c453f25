import { type Run, runOf, sourceSpan, spanOf } from '../conform';
import type { CarryMode, Framing, StandingEvent } from '../edit';
import type { Original } from '../originals';
import { type FrameRange, type Frames, lengthOf, type Rate } from '../time';
import {
  type ChecksumEvidence,
  compareChecksum,
  compareFolder,
  compareLength,
  compareName,
  comparePicture,
  compareRaster,
  compareRate,
  compareReel,
  compareSlate,
  compareTimecode,
  type Evidence,
  type FolderEvidence,
  isNamed,
  isTold,
  type LengthEvidence,
  type NameEvidence,
  type PictureEvidence,
  type PictureLook,
  type RasterEvidence,
  type RateEvidence,
  type ReelEvidence,
  type SlateEvidence,
  type TimecodeEvidence,
} from './criteria';

/** A candidate for an event, looked at. Frames count from 0 in the file. */
export interface Contender {
  readonly original: Original;
  readonly reel: ReelEvidence;
  readonly name: NameEvidence;
  readonly slate: SlateEvidence;
  readonly timecode: TimecodeEvidence;
  readonly picture: PictureEvidence;
  readonly length: LengthEvidence;
  readonly rate: RateEvidence;
  readonly raster: RasterEvidence;
  readonly folder: FolderEvidence;
  readonly checksum: ChecksumEvidence;
  readonly sourceStartFrame: Frames;
  /** What must be added to the list's label to reach the original's; 0 when they agree. */
  readonly shiftFrames: Frames;
  /** The line of the rules that it meets, from 0, missing frames aside; null where it meets none. */
  readonly line: number | null;
}

/** All that speaks for or against a candidate, in the order in which people ask. */
export const evidenceOf = (c: Contender): readonly Evidence[] => [
  c.reel,
  c.name,
  c.slate,
  c.timecode,
  c.picture,
  c.length,
  c.rate,
  c.raster,
  c.folder,
  c.checksum,
];

/** An event that looks for its original. */
export interface Asking {
  readonly event: StandingEvent;
  /** Frames that are needed past its record out. */
  readonly tail: Frames;
  /** Rate of the cut. */
  readonly recordRate: Rate;
  readonly framing: Framing | null;
  /** What its candidates' pictures were seen to be; empty where they were not compared. */
  readonly looks: readonly PictureLook[];
}

/**
 * Looks at one original as a candidate for one event. `settledStart`: the frame where an accepted pair begins, which
 * then stands whatever timecode says.
 */
export function examine(
  { event, tail, recordRate, framing, looks }: Asking,
  original: Original,
  carry: CarryMode,
  settledStart?: Frames,
): Omit<Contender, 'line'> {
  const run = runOf(event, recordRate, original.kind === 'still' ? event.sourceRate : original.rate);
  const name = compareName(event, original);
  const slate = compareSlate(event, original);
  const named = isNamed(name) || isNamed(slate);
  const timecode = compareTimecode(event, original, carry, spanOfCut(event, run), named);
  const look = looks.find((l) => l.path === original.path) ?? null;
  const start = settledStart ?? startOf(timecode, isTold(timecode, original, named), look);
  return {
    original,
    reel: compareReel(event, original),
    name,
    slate,
    timecode,
    picture: comparePicture(look, start),
    length: compareLength(original, start, sourceSpan(event, run, tail)),
    rate: compareRate(event, original, recordRate),
    raster: compareRaster(framing, original),
    folder: compareFolder(event, original),
    checksum: compareChecksum(original),
    sourceStartFrame: start,
    shiftFrames: timecode.shift,
  };
}

/** Where timecode says nothing of a clip, its picture does. */
function startOf(timecode: TimecodeEvidence, told: boolean, look: PictureLook | null): Frames {
  const says = told && timecode.grade !== 'unknown' && timecode.grade !== 'conflict';
  return !says && look?.is === 'found' ? look.sourceStartFrame : timecode.start;
}

/** The source that an event shows between its cuts, its transitions aside. */
const spanOfCut = (event: StandingEvent, run: Run): FrameRange => spanOf(run, 0, lengthOf(event.record));

/** A candidate with the line of the rules it meets; written out, since it is made for every candidate whenever rules change. */
export const withLine = (c: Omit<Contender, 'line'>, line: number | null): Contender => ({
  original: c.original,
  reel: c.reel,
  name: c.name,
  slate: c.slate,
  timecode: c.timecode,
  picture: c.picture,
  length: c.length,
  rate: c.rate,
  raster: c.raster,
  folder: c.folder,
  checksum: c.checksum,
  sourceStartFrame: c.sourceStartFrame,
  shiftFrames: c.shiftFrames,
  line,
});

/** The same where it stood in that line already. */
export const inLine = (c: Contender, line: number | null): Contender => (c.line === line ? c : withLine(c, line));

/** True when an original has not all frames that an event asks for. */
export const isShort = ({ length }: Pick<Contender, 'length'>): boolean => length.grade !== 'exact';
