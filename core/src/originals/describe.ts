import type { Raster } from '../edit';
import { formatTimeOfDay, type Rate } from '../time';
import { type ChecksumCheck, checkChecksums } from './checksums';
import type { Claim, MeasuredChecksum, Original, StatedGrade, Warning } from './model';

/** An original in the shape of the command-line contract. */
export interface OriginalDescription {
  path: string;
  kind: string;
  reel: string;
  clipName: string;
  fileName: string;
  timecodeIn: string | null;
  timecodeOut: string | null;
  frames: number;
  rate: Rate;
  raster: Raster;
  codec: string;
  sound: Original['sound'];
  sidecars: string[];
  /** For numbered frames and takes over several files: how many files. */
  files: number;
  /** For takes over several files: the path of each. */
  pieces: string[];
  bytes: number;
  pixelAspect: number | null;
  claims: Claim[];
  /** What manifests state of its files, against what was measured. */
  checksums: ChecksumCheck[];
  measured: MeasuredChecksum[];
  grades: StatedGrade[];
  warnings: Warning[];
}

/** Describes an original; timecodes are null when it has none, and the out point is exclusive. */
export function describeOriginal(o: Original): OriginalDescription {
  const timecode = (frames: number) => (o.hasTimecode ? formatTimeOfDay(frames, o.rate) : null);
  const { path, kind, reel, clipName, fileName, frames, rate, raster, codec, sound } = o;
  return {
    path,
    kind,
    reel,
    clipName,
    fileName,
    timecodeIn: timecode(o.start),
    timecodeOut: timecode(o.start + o.frames),
    frames,
    rate,
    raster,
    codec,
    sound,
    sidecars: [...o.sidecars],
    files: Math.max(1, o.files.length, o.pieces.length),
    pieces: o.pieces.map((p) => p.path),
    bytes: o.bytes,
    pixelAspect: o.pixelAspect,
    claims: [...o.claims],
    checksums: checkChecksums(o),
    measured: [...o.measured],
    grades: [...o.grades],
    warnings: [...o.warnings],
  };
}
