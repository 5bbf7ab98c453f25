import type { Raster } from '../edit';
import { formatTimecode, type Rate } from '../time';
import type { Original, Warning } from './model';

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
  warnings: Warning[];
}

/** Describes an original; timecodes are null when it has none, and the out point is exclusive. */
export function describeOriginal(o: Original): OriginalDescription {
  const timecode = (frames: number) => (o.hasTimecode ? formatTimecode(frames, o.rate) : null);
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
    warnings: [...o.warnings],
  };
}
