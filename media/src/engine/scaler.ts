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
  free(): void;
}

/** Makes a scaler. `range` is the code range of the result: `video` (16..235) or `full`. */
export function makeScaler(width: number, height: number, format: AVPixelFormat, range: 'video' | 'full', flags: number): Scaler {
  const context = new SoftwareScaleContext();
  context.allocContext();
  context.setOption('sws_flags', flags);
  const target = new Frame();
  target.alloc();
  target.width = width;
  target.height = height;
  target.format = format;
  target.colorSpace = AVCOL_SPC_BT709;
  target.colorRange = range === 'full' ? AVCOL_RANGE_JPEG : AVCOL_RANGE_MPEG;
  must(target.getBuffer(), 'Cannot hold a picture');
  return {
    convert(source) {
      if (source.colorSpace === AVCOL_SPC_UNSPECIFIED) source.colorSpace = AVCOL_SPC_BT709;
      if (source.colorRange === AVCOL_RANGE_UNSPECIFIED && range === 'video') source.colorRange = AVCOL_RANGE_MPEG;
      must(context.scaleFrameSync(target, source), 'Cannot scale a picture');
      return target;
    },
    free() {
      target.free();
      context.freeContext();
    },
  };
}
