import {
  AVCOL_RANGE_JPEG,
  AVCOL_RANGE_MPEG,
  AVCOL_RANGE_UNSPECIFIED,
  AVCOL_SPC_BT709,
  AVCOL_SPC_UNSPECIFIED,
  type AVPixelFormat,
} from 'node-av/constants';
import { Frame, SoftwareScaleContext } from 'node-av/lib';
import { must } from './av';

/** Converts pictures to one raster and pixel format. Rec. 709 is assumed where a picture does not say. */
export interface Scaler {
  /** The converted picture; it belongs to the scaler and is overwritten by the next call. */
  convert(source: Frame): Frame;
  /** The converted picture in a frame of its own, which the caller frees. */
  convertToOwn(source: Frame): Frame;
  free(): void;
}

/** Makes a scaler. `range` is the code range of the result: `video` (16..235) or `full`. `threads`: how many parts of a picture are converted at once. */
export function makeScaler(
  width: number,
  height: number,
  format: AVPixelFormat,
  range: 'video' | 'full',
  flags: number,
  threads = 1,
): Scaler {
  const context = new SoftwareScaleContext();
  context.allocContext();
  context.setOption('sws_flags', flags);
  if (threads > 1) context.setOption('threads', threads);
  // FFmpeg gives it room when it writes to it. Room that it is given before fits badly into what others left, and memory grows with each picture.
  const holder = () => {
    const frame = new Frame();
    frame.alloc();
    frame.width = width;
    frame.height = height;
    frame.format = format;
    frame.colorSpace = AVCOL_SPC_BT709;
    frame.colorRange = range === 'full' ? AVCOL_RANGE_JPEG : AVCOL_RANGE_MPEG;
    return frame;
  };
  const target = holder();
  const scale = (into: Frame, source: Frame) => {
    if (source.colorSpace === AVCOL_SPC_UNSPECIFIED) source.colorSpace = AVCOL_SPC_BT709;
    if (source.colorRange === AVCOL_RANGE_UNSPECIFIED && range === 'video') source.colorRange = AVCOL_RANGE_MPEG;
    must(context.scaleFrameSync(into, source), 'Cannot scale a picture');
    return into;
  };
  return {
    convert: (source) => scale(target, source),
    convertToOwn: (source) => scale(holder(), source),
    free() {
      target.free();
      context.freeContext();
    },
  };
}
